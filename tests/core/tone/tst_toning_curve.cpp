#include "grey_samples.h"
#include "registry.h"
#include "render/auto_grey.h"
#include "tone/tone_curve.h"
#include "tone/toning_curve.h"

using namespace buttonhole;
using namespace buttonhole::test;

class TstToningCurve : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void toningKeepsLuminance()
    {
        std::vector<Toning> all;
        for (const ReadyTone &tone : readyTones())
            all.push_back(tone.toning);
        for (float hue = 0; hue < 360; hue += 45)
            all.push_back({hue, 100, hue + 180 > 360 ? hue - 180 : hue + 180, 100, 40, false});
        const Matrix3 &toXyz = Profile::srgb().toXyz();
        const auto &linear = Profile::srgb().toLinear(0);
        const auto plain = render(ramp(), {});
        for (const Toning &toning : all) {
            GreyMix mix;
            mix.toning = toning;
            const auto codes = render(ramp(), mix);
            bool isColoured = false;
            for (size_t i = 0; i < 65536; i += 37) {
                double y = 0;
                for (size_t c = 0; c < 3; ++c)
                    y += toXyz[1][c] * double(linear[codes[3 * i + c]]);
                const float off =
                    toCieLightness(float(y)) - toCieLightness(float(linear[plain[3 * i]]));
                QVERIFY2(std::abs(off) < 0.5F, qPrintable(QString::number(off)));
                isColoured |= std::abs(int(codes[3 * i]) - int(codes[3 * i + 2])) > 1000;
            }
            QVERIFY(isColoured);
            QCOMPARE(codes[0], uint16_t(0)); // black and white stay neutral
            QVERIFY(codes[3 * 65535] >= 65533 && codes[3 * 65535 + 2] >= 65533);
        }
    }

    void keptColoursAreNotTonedUnlessAsked()
    {
        const auto levels = PhotoLevels::makeFlat(test::makePhoto(64, 64, 16));
        Take take = makeTake();
        take.keeps[0].invert = true; // keeps all
        take.grey.toning = readyTones()[1].toning;
        const auto renderTake = [&] {
            std::vector<uint16_t> codes(64 * 64 * 3);
            const auto done = renderPicture(*levels, take, View::Result, 0, {0, 0, 64, 64},
                                            OutputColour(Profile::srgb()),
                                            {RenderTarget::Layout::Rgb16, codes.data(), 64 * 6});
            return done ? codes : std::vector<uint16_t>();
        };
        const auto own = renderTake();
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; ++x)
                QCOMPARE(own[size_t(y * 64 + x) * 3], test::codeAt(levels->photo(), x, y, 0));
        take.grey.toning.overKeeps = true;
        QVERIFY(renderTake() != own);
    }
};

BUTTONHOLE_TEST(TstToningCurve)

#include "tst_toning_curve.moc"
