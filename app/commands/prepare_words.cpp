#include "commands/prepare_words.h"

#include "commands/number_words.h"
#include "light/fine_light.h"
#include "light/lens.h"
#include "light/mends.h"
#include "light/photo_light.h"

#include <QCoreApplication>
#include <QLocale>
#include <QStringList>

#include <algorithm>

namespace buttonhole::app
{

QString wordsOfLight(const Adjustment &light, int most)
{
    QStringList out;
    const AdjustmentKind &kind = *adjustmentKinds().find(light.kind());
    int left = 0;
    for (size_t i = 0; i < kind.numbers.size(); ++i) {
        const AnyParam &number = kind.numbers[i];
        const double shown = double(light.number(i)) * number.scale.factor;
        const QString value = QLocale().toString(shown, 'f', number.scale.decimals);
        if (shown == 0 || value.toDouble() == 0)
            continue;
        if (out.size() == most) {
            ++left;
            continue;
        }
        const QString sign = shown > 0 ? QStringLiteral("+") : QString();
        const bool isExposure = number.id == "exposureEv";
        out += isExposure
                   ? sign + value + QLatin1String(number.scale.unit)
                   : numberWord(kind.id, number.id).toLower() + QLatin1Char(' ') + sign + value;
    }
    if (left > 0)
        out += QStringLiteral("…");
    return out.join(QStringLiteral(", "));
}

bool isOnPages(std::string_view kind)
{
    return kind == Mends::kKind || kind == Lens::kKind || kind == PhotoLight::kKind ||
           kind == Sharpness::kKind || kind == Noise::kKind;
}

QString stateOf(const Removal &removal)
{
    return !removal.patch      ? QCoreApplication::translate("Prepare", "not filled yet")
           : removal.isStale() ? QCoreApplication::translate("Prepare", "changed since")
                               : QCoreApplication::translate("Prepare", "filled");
}

QString summaryOfPrepare(const Take &take, const PhotoLevels &levels)
{
    QStringList out;
    const PictureMap map = pictureOf(take, levels.photo().width, levels.photo().height);
    const Straightening &by = take.geometry.straightening;
    if (by.angleDeg != 0)
        out += QStringLiteral("%1°").arg(double(by.angleDeg), 0, 'f', 1);
    if (by.verticalDeg != 0 || by.horizontalDeg != 0)
        out += QCoreApplication::translate("Prepare", "keystone");
    if (!take.geometry.crop.isEmpty())
        out += QCoreApplication::translate("Prepare", "crop %1 × %2")
                   .arg(map.rect().width())
                   .arg(map.rect().height());
    else if (map.isExact() && !map.isPlain())
        out += QCoreApplication::translate("Prepare", "turned");
    const auto filled = std::count_if(take.removals.begin(), take.removals.end(),
                                      [](const Removal &each) { return each.on && each.patch; });
    if (filled > 0)
        out += filled == 1
                   ? QCoreApplication::translate("Prepare", "1 thing out")
                   : QCoreApplication::translate("Prepare", "%n things out", nullptr, int(filled));
    if (const size_t mends = mendsOf(take).size(); mends > 0)
        out += mends == 1 ? QCoreApplication::translate("Prepare", "1 mend")
                          : QCoreApplication::translate("Prepare", "%n mends", nullptr, int(mends));
    const AdjustmentRef light = preparedBy(take, PhotoLight::kKind);
    if (!light->isOff())
        out += wordsOfLight(*light, 1);
    for (const std::string_view kind : {Lens::kKind, Sharpness::kKind, Noise::kKind})
        if (!preparedBy(take, kind)->isOff())
            out += kindWord(kind).toLower();
    return out.isEmpty() ? QCoreApplication::translate("Prepare", "as taken")
                         : out.join(QStringLiteral(", "));
}

} // namespace buttonhole::app
