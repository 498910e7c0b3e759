#include "grey_samples.h"
#include "registry.h"
#include "tone/tone_curve.h"
#include "tone/toning_curve.h"

using namespace buttonhole;
using namespace buttonhole::test;

class TstToneCurve : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void toneCurvesNeverFall()
    {
        for (const float contrast : {-100.0F, 0.0F, 100.0F})
            for (const float shadows : {-100.0F, 100.0F})
                for (const float highlights : {-100.0F, 100.0F})
                    for (const float middle : {0.1F, 0.5F, 0.9F}) {
                        Tone tone;
                        tone.black = 0.1F;
                        tone.white = 0.8F;
                        tone.middle = middle;
                        tone.contrast = contrast;
                        tone.shadows = shadows;
                        tone.highlights = highlights;
                        tone.curve = {{0.1F, 0.2F}, {0.4F, 0.3F}, {0.9F, 0.95F}};
                        const auto curve = makeToneCurve(tone);
                        for (size_t i = 1; i < curve.size(); ++i)
                            QVERIFY(curve[i] >= curve[i - 1]);
                        QVERIFY(curve.front() >= 0 && curve.back() <= 1);
                    }
        Tone tone;
        tone.contrast = 60;
        tone.pivot = 0.3F;
        QVERIFY(std::abs(toneAt(tone, 0.3) - 0.3) < 1e-6);
        tone = {};
        tone.black = 0.2F;
        tone.white = 0.7F;
        tone.middle = 0.3F;
        QVERIFY(std::abs(toneAt(tone, 0.2)) < 1e-6 && std::abs(toneAt(tone, 0.7) - 1) < 1e-6);
        QVERIFY(std::abs(toneAt(tone, 0.2 + 0.3 * 0.5) - 0.5) < 1e-6);
        tone = {};
        tone.curve = {{0.25F, 0.4F}};
        QVERIFY(std::abs(toneAt(tone, 0.25) - 0.4) < 1e-6);
    }

    void a16BitRampStaysFreeOfSteps()
    {
        GreyMix mix = strongHues();
        mix.tone.contrast = 60;
        mix.tone.shadows = 60;
        mix.tone.highlights = -60;
        mix.tone.curve = {{0, 0}, {0.3F, 0.25F}, {0.6F, 0.7F}, {1, 1}};
        mix.toning = readyTones()[1].toning;
        const auto codes = render(ramp(), mix);
        for (size_t c = 0; c < 3; ++c)
            for (size_t i = 65; i + 65 < 65536; ++i) {
                // No step is more than a code and a half from the slope around it.
                const double slope = (codes[3 * (i + 64) + c] - codes[3 * (i - 64) + c]) / 128.0;
                const double step = int(codes[3 * (i + 1) + c]) - int(codes[3 * i + c]);
                QVERIFY2(
                    std::abs(step - slope) < 1.5 + 0.2 * std::abs(slope),
                    qPrintable(QStringLiteral("at %1: %2, slope %3").arg(i).arg(step).arg(slope)));
            }
    }
};

BUTTONHOLE_TEST(TstToneCurve)

#include "tst_tone_curve.moc"
