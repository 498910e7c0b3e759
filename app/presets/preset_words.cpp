#include "presets/preset_words.h"

#include <QCoreApplication>
#include <QStringList>

#include <algorithm>

namespace buttonhole::app
{

namespace
{

struct GroupWord {
    std::string_view id;
    const char *word;
};

constexpr GroupWord kGroupWords[] = {
    {"crop", QT_TRANSLATE_NOOP("Presets", "Crop's ratio")},
    {"lens", QT_TRANSLATE_NOOP("Presets", "Lens")},
    {"light", QT_TRANSLATE_NOOP("Presets", "Light")},
    {"grey", QT_TRANSLATE_NOOP("Presets", "Grey")},
    {"toning", QT_TRANSLATE_NOOP("Presets", "Toning")},
    {"keeps", QT_TRANSLATE_NOOP("Presets", "Keeps, looked for anew")},
    {"look", QT_TRANSLATE_NOOP("Presets", "Colour of keeps")},
    {"tones", QT_TRANSLATE_NOOP("Presets", "Local tones")},
    {"vignette", QT_TRANSLATE_NOOP("Presets", "Vignette")},
    {"grain", QT_TRANSLATE_NOOP("Presets", "Grain")},
    {"toneColours", QT_TRANSLATE_NOOP("Presets", "Colours by tone")},
    {"frame", QT_TRANSLATE_NOOP("Presets", "Frame")},
    {"signature", QT_TRANSLATE_NOOP("Presets", "Signature")}};

QString tr(const char *text)
{
    return QCoreApplication::translate("Presets", text);
}

} // namespace

QString groupName(std::string_view id)
{
    constexpr std::string_view kOfTone = "tone:";
    for (const GroupWord &each : kGroupWords)
        if (each.id == id)
            return tr(each.word);
    if (id.starts_with(kOfTone))
        id.remove_prefix(kOfTone.size());
    return QString::fromUtf8(id.data(), qsizetype(id.size()));
}

QString wordsOf(const CarryReport &report)
{
    QStringList lost;
    QStringList leftOut;
    for (const CarriedStep &step : report.steps) {
        const QString line = QString::fromStdString(step.line);
        QStringList *list = step.how == CarriedStep::How::LeftOut    ? &leftOut
                            : step.how == CarriedStep::How::NotFound ? &lost
                                                                     : nullptr;
        if (list && !list->contains(line))
            *list += line;
    }
    const QString comma = QStringLiteral(", ");
    QStringList out;
    if (!lost.isEmpty())
        out += tr("Not found on this photo: %1.").arg(lost.join(comma));
    if (!leftOut.isEmpty())
        out +=
            tr("Strokes and outlines of another photo were left out: %1.").arg(leftOut.join(comma));
    QStringList unsure;
    for (const CarriedLine &line : report.lines)
        if (line.sure < CarryReport::kSure)
            unsure += QString::fromStdString(line.name);
    if (!unsure.isEmpty())
        out += tr("Have a look at the mask of %1: it may be of something else.")
                   .arg(unsure.join(comma));
    return out.join(QLatin1Char(' '));
}

} // namespace buttonhole::app
