#include "grey_samples.h"
#include "registry.h"
#include "tone/lens_glass.h"
#include "tone/looks.h"
#include "tone/tone_curve.h"

#include <random>

using namespace buttonhole;
using namespace buttonhole::test;

class TstGreyMix : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void neutralsStayWhereTheyAre_data()
    {
        QTest::addColumn<int>("base");
        QTest::addColumn<int>("glass");
        for (int base = 0; base < 5; ++base)
            for (int glass = 0; glass < 6; ++glass)
                QTest::addRow("base %d glass %d", base, glass) << base << glass;
    }
    void neutralsStayWhereTheyAre()
    {
        QFETCH(int, base);
        QFETCH(int, glass);
        GreyMix mix = strongHues();
        mix.base = GreyMix::Base(base);
        mix.blend = {1.6F, -0.4F, 0.3F};
        mix.glass = Glass(glass);
        const auto codes = render(ramp(), mix);
        for (size_t i = 0; i < 65536; ++i)
            for (size_t c = 0; c < 3; ++c)
                QVERIFY2(std::abs(int(codes[3 * i + c]) - int(i)) <= 1,
                         qPrintable(QStringLiteral("%1 became %2").arg(i).arg(codes[3 * i + c])));
    }

    /// From neutral to colour the effect comes in smoothly: a sky's gradient does not break up.
    void gradientsStaySmooth()
    {
        const auto gradient = paint(2048, 2, [](int x, int) {
            return codesOf({0.8 - 0.1 * x / 2048, -0.02 * x / 2048, -0.10 * x / 2048});
        });
        const auto codes = render(gradient.clone(), strongHues());
        double most = 0;
        for (size_t i = 8; i + 8 < 2048; ++i) {
            const double slope = (codes[3 * i + 24] - codes[3 * i - 24]) / 16.0;
            const double here = codes[3 * i + 3] - codes[3 * i];
            most = std::max(most, std::abs(here - slope));
        }
        QVERIFY2(most < 12, qPrintable(QString::number(most))); // rounding of the source is about 5
    }

    /// The stated bound: with two points at 100, noise as strong as here (1.4 % in every channel)
    /// grows to at most 5 times on the curve's steepest flank, and not at all around neutral.
    void noiseIsBounded_data()
    {
        QTest::addColumn<double>("chroma");
        QTest::addColumn<double>("bound");
        QTest::newRow("neutral") << 0.0 << 1.02;
        QTest::newRow("almost neutral") << 0.01 << 1.7;
        QTest::newRow("muted") << 0.03 << 4.0;
        QTest::newRow("sky") << 0.08 << 5.0;
        QTest::newRow("strong") << 0.15 << 4.0;
    }
    void noiseIsBounded()
    {
        QFETCH(double, chroma);
        QFETCH(double, bound);
        GreyMix mix;
        mix.hue = {{190, 100, 40}, {300, 100, 40}};
        for (int hue = 0; hue < 360; hue += 15) {
            std::mt19937 random(uint32_t(hue) + 1);
            std::normal_distribution<double> noise(0, 900); // as a phone's at high sensitivity
            const double h = hue * 3.14159265358979 / 180;
            const auto base = codesOf({0.6, chroma * std::cos(h), chroma * std::sin(h)});
            const auto patch = paint(128, 128, [&](int, int) {
                std::array<uint16_t, 3> out{};
                for (size_t c = 0; c < 3; ++c)
                    out[c] = uint16_t(std::clamp(base[c] + noise(random), 0.0, 65535.0));
                return out;
            });
            const double before = deviation(render(patch.clone(), {}));
            const double after = deviation(render(patch.clone(), mix));
            QVERIFY2(after / before < bound, qPrintable(QString::number(after / before)));
        }
    }

    void strengthGoesFromPlainToAll()
    {
        const auto levels = PhotoLevels::make(test::makePhoto(300, 200)).value();
        GreyMix mix = findLook("red lamp")->mix;
        const auto plain = render(*levels, {});
        const auto all = render(*levels, mix);
        mix.strength = 0;
        QCOMPARE(render(*levels, mix), plain);
        mix.strength = 0.5F;
        const auto half = render(*levels, mix);
        for (size_t i = 0; i < half.size(); ++i)
            QVERIFY(half[i] + 2 >= std::min(plain[i], all[i]) &&
                    half[i] <= std::max(plain[i], all[i]) + 2);
    }

    void colourLeftIsTheOriginalsHue()
    {
        const auto patch = [] {
            return paint(4, 1, [](int, int) { return codesOf({0.6, 0.10, 0.05}); });
        };
        GreyMix mix;
        mix.colourLeft = 0.3F;
        const auto codes = render(patch(), mix);
        QVERIFY(codes[0] > codes[1] + 1500 && codes[1] > codes[2]);
        mix.colourLeft = 1;
        mix.base = GreyMix::Base::Lightness;
        const auto full = render(patch(), mix);
        const auto source = codesOf({0.6, 0.10, 0.05});
        for (size_t c = 0; c < 3; ++c)
            QVERIFY(std::abs(int(full[c]) - int(source[c])) < 30);
    }

    void badNumbersAreRefused()
    {
        GreyMix mix;
        QVERIFY(check(mix));
        mix.blend[1] = 2.5F;
        QCOMPARE(check(mix).error().subject, std::string("blend.green"));
        mix = {};
        mix.tone.curve = {{0.5F, 0.5F}, {0.4F, 0.6F}};
        QVERIFY(!check(mix));
        mix = {};
        mix.hue = {{std::nanf(""), 0, 40}};
        QVERIFY(!check(mix));
        mix = {};
        mix.tone.white = mix.tone.black = 0.5F;
        QVERIFY(!check(mix));
        // The blend keeps its total, but not by blowing up what sums to nothing.
        mix = {};
        mix.blend = {1, 1, -2};
        QCOMPARE(effectiveBlend(mix)[0], 1.0F);
        mix.blend = {1, 1, 0};
        QCOMPARE(effectiveBlend(mix)[1], 0.5F);
    }
};

BUTTONHOLE_TEST(TstGreyMix)

#include "tst_grey_mix.moc"
