#include "commands/step_words.h"

#include "commands/number_words.h"
#include "mask/region_step.h"

#include <QCoreApplication>
#include <QStringList>

#include <cmath>

namespace buttonhole::app
{

namespace
{

QString stepWord(const char *text)
{
    return QCoreApplication::translate("Steps", text);
}

struct FactWords {
    std::string_view id;
    const char *one;
    const char *many; ///< with their number
};

constexpr FactWords kFacts[] = {
    {"strokes", QT_TRANSLATE_NOOP("Steps", "1 stroke"), QT_TRANSLATE_NOOP("Steps", "%1 strokes")},
    {"points", QT_TRANSLATE_NOOP("Steps", "1 point"), QT_TRANSLATE_NOOP("Steps", "%1 points")},
    {"clicks", QT_TRANSLATE_NOOP("Steps", "1 click"), QT_TRANSLATE_NOOP("Steps", "%1 clicks")},
    {"marks", QT_TRANSLATE_NOOP("Steps", "1 mark"), QT_TRANSLATE_NOOP("Steps", "%1 marks")},
    {"lines", nullptr, QT_TRANSLATE_NOOP("Steps", "%1 lines")},
    {"box", QT_TRANSLATE_NOOP("Steps", "from a box"), nullptr},
    {"connected", QT_TRANSLATE_NOOP("Steps", "connected"), nullptr},
};

/// @return empty where it goes without saying
QString wordsOf(std::string_view fact, double count)
{
    const auto *row = std::find_if(std::begin(kFacts), std::end(kFacts),
                                   [&](const FactWords &each) { return each.id == fact; });
    if (row == std::end(kFacts))
        return QStringLiteral("%1 %2").arg(numberWord({}, fact).toLower()).arg(count);
    if (count == 1)
        return row->one ? stepWord(row->one) : QString();
    return row->many ? stepWord(row->many).arg(count) : QString();
}

double valueOf(const StepFacts &facts, std::string_view id)
{
    for (const auto &[fact, value] : facts)
        if (fact == id)
            return value;
    return 0;
}

/// How what kinds have as numbers is told in a few words; others list their facts.
QString rangeOf(const std::string &kind, const StepFacts &facts)
{
    const auto whole = [&](const char *id, double times = 1) {
        return QString::number(std::lround(valueOf(facts, id) * times));
    };
    if (kind == "colour-window")
        return QStringLiteral("%1° ± %2°").arg(whole("hueDeg"), whole("hueWidthDeg", 0.5));
    if (kind == "tone-window")
        return stepWord("%1 to %2 %").arg(whole("least", 100), whole("most", 100));
    if (kind == "fade")
        return valueOf(facts, "round") == 1 ? stepWord("round") : stepWord("straight");
    if (kind == "picture")
        return stepWord("from a file");
    return {};
}

} // namespace

QString titleOf(const StepShape &shape)
{
    if (!shape.isUnderstood())
        return QString::fromStdString(shape.kind());
    return shape.kind() == "picture" ? stepWord("Mask picture") : kindWord(shape.kind());
}

QString titleOf(const Step &step)
{
    const QString word = titleOf(*step.shape);
    return step.invert ? stepWord("All but %1").arg(word.toLower()) : word;
}

QString summaryOf(const StepShape &shape)
{
    if (!shape.isUnderstood())
        return stepWord("kept, without effect here");
    const StepFacts facts = shape.facts();
    QStringList parts;
    const auto *region = dynamic_cast<const RegionStep *>(&shape);
    const bool isNamed = region && region->note() && !region->note()->word.empty();
    if (isNamed)
        parts.append(QString::fromStdString(region->note()->word));
    const QString range = rangeOf(shape.kind(), facts);
    if (!range.isEmpty())
        parts.append(range);
    for (const auto &[id, value] : facts) {
        const bool isSaid = (!range.isEmpty() && id != "connected") || (isNamed && id == "box");
        if (const QString words = isSaid || value == 0 ? QString() : wordsOf(id, value);
            !words.isEmpty())
            parts.append(words);
    }
    return parts.join(QStringLiteral(", "));
}

QString summaryOf(const GreyMix &mix)
{
    const QString share = mix.strength < 1
                              ? QStringLiteral(", %1 %").arg(std::lround(mix.strength * 100))
                              : QString();
    if (!mix.look.empty())
        return QString::fromStdString(mix.look) + share;
    if (mix.isPlain())
        return mix.isTinted() ? stepWord("luminance, tinted") : stepWord("luminance");
    const QString bases[] = {stepWord("luminance"), stepWord("lightness"), stepWord("average"),
                             stepWord("extremes"), stepWord("blend")};
    const bool isOnlyBase = mix.hue.empty() && mix.glass == Glass::None && mix.tone == Tone();
    return (isOnlyBase ? bases[size_t(mix.base)] : stepWord("own mix")) + share;
}

} // namespace buttonhole::app
