#include "../tone/grey_samples.h"
#include "registry.h"
#include "render/auto_grey.h"
#include "render/grey_statistics.h"
#include "tone/tone_curve.h"

using namespace buttonhole;
using namespace buttonhole::test;

class TstAutoGrey : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void autoKeepsMoreOfTheContrasts_data()
    {
        QTest::addColumn<QString>("photo");
        for (const char *name : {"spools.jpg", "button-jar.jpg"})
            QTest::newRow(name) << test::demo(name);
    }
    void autoKeepsMoreOfTheContrasts()
    {
        QFETCH(QString, photo);
        const auto levels = PhotoLevels::load(photo.toStdString()).value();
        const Take take = makeTake();
        const ColourPairs pairs = samplePairs(*levels, nullptr);
        QVERIFY(pairs.pairs.size() > 2000);
        const auto score = [&](const GreyMix &mix) {
            return colourContrastRatio(pairs, greyLightness(*levels, pairs, mix));
        };
        const GreyMix found = findAutoMix(*levels, take);
        QVERIFY(check(found));
        QVERIFY(found == findAutoMix(*levels, take)); // the same every time
        QVERIFY2(score(found) > score({}) + 0.005,
                 qPrintable(QStringLiteral("%1 %2").arg(score(found)).arg(score({}))));
    }

    void histogramsSeeWhatIsGrey()
    {
        const auto levels = PhotoLevels::makeFlat(photoOf(paint(300, 200, [](int x, int) {
            return x < 150 ? codesOf({0.6, 0.15, 0.05}) : std::array<uint16_t, 3>{0, 0, 0};
        })));
        const auto hues = measureHues(*levels);
        QCOMPARE(int(std::max_element(hues.begin(), hues.end()) - hues.begin()), 18);
        Take take;
        const ToneHistogram tones = measureTones(*levels, take, true);
        QVERIFY(std::abs(tones.clippedBlack - 0.5F) < 1e-3F);
        QVERIFY(std::abs(tones.before[0] - 0.5F) < 1e-3F);
        take.grey.tone.white = 0.5F;
        QVERIFY(std::abs(measureTones(*levels, take, true).clippedWhite - 0.5F) < 1e-3F);
        // A keep over everything leaves no grey to count.
        take.keeps = makeTake().keeps;
        take.keeps[0].invert = true;
        QCOMPARE(measureTones(*levels, take, false).before[0], 0.0F);
        QVERIFY(measureTones(*levels, take, true).before[0] > 0.4F);
    }
};

BUTTONHOLE_TEST(TstAutoGrey)

#include "tst_auto_grey.moc"
