#include "light/local_effects.h"
#include "light/vignette.h"

#include "registry.h"
#include "samples.h"

#include <cmath>

using namespace buttonhole;

/// Fog, texture and blur against plain code, and the same in any part.
class TstLocalEffects : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 260;
    static constexpr int kHeight = 180;

    template <class Values>
    static LightTile after(const Values &values, const Rect &area, int level = 0)
    {
        const auto source =
            NumberAdjustment<Values>(values).over(std::make_shared<const PhotoSource>(*levels()));
        LightTile out(area);
        if (!source->read(level, out, {}))
            qFatal("it cannot be read");
        return out;
    }
    static LightTile plain(const Rect &area)
    {
        LightTile out(area);
        if (!PhotoSource(*levels()).read(0, out, {}))
            qFatal("it cannot be read");
        return out;
    }
    /// Grain on a slanting ground, and an edge down the middle.
    static const std::shared_ptr<const PhotoLevels> &levels()
    {
        static const auto photo = test::levelsOf(kWidth, kHeight, [](int x, int y) {
            const int grain = int((uint32_t(x) * 73856093u ^ uint32_t(y) * 19349663u) % 13) - 6;
            const int v = (x < kWidth / 2 ? 70 : 190) + y / 12 + grain;
            return std::array{v, v - 20, v - 40};
        });
        return photo;
    }
    static std::array<double, 3> lab(const LightTile &light, int x, int y)
    {
        LightSpace space(Profile::srgb());
        std::array<float, kRowRun> rgb[3];
        for (size_t c = 0; c < 3; ++c)
            rgb[c][0] = *light.at(int(c), x, y);
        labRow(space.toLms.data(), 1, rgb[0].data(), rgb[1].data(), rgb[2].data());
        return {double(rgb[0][0]), double(rgb[1][0]), double(rgb[2][0])};
    }
    static double lightness(const LightTile &light, int x, int y) { return lab(light, x, y)[0]; }
    /// Standard deviation of lightness in a part of even ground.
    static double grain(const LightTile &light, const Rect &part)
    {
        double sum = 0;
        double squares = 0;
        for (int y = part.y0; y < part.y1; ++y)
            for (int x = part.x0; x < part.x1; ++x) {
                const double v = lightness(light, x, y);
                sum += v;
                squares += v * v;
            }
        const double n = double(part.area());
        return std::sqrt(std::max(0.0, squares / n - sum / n * sum / n));
    }
    static constexpr Rect kAll{0, 0, kWidth, kHeight};
    static constexpr Rect kGround{20, 60, 70, 80};

    template <class Values>
    static void isTheSameInParts(const Values &values)
    {
        const LightTile whole = after(values, kAll);
        for (const Rect &part :
             {Rect{0, 0, 256, 100}, Rect{100, 37, 180, 41}, Rect{255, 170, 260, 180}}) {
            const LightTile piece = after(values, part);
            for (int y = part.y0; y < part.y1; ++y)
                for (int x = part.x0; x < part.x1; ++x)
                    QVERIFY2(piece.isSameAt(whole, x, y),
                             qPrintable(QStringLiteral("%1, %2").arg(x).arg(y)));
        }
    }

private Q_SLOTS:
    void fogIsAVeil()
    {
        Fog fog;
        fog.amount = 0.3F;
        fog.lightness = 0.7F;
        const LightTile was = plain(kAll);
        const LightTile is = after(fog, kAll);
        for (int y = 0; y < kHeight; y += 11)
            for (int x = 0; x < kWidth; x += 7) {
                const auto before = lab(was, x, y);
                const auto now = lab(is, x, y);
                QVERIFY(std::abs(now[0] - (0.7 * before[0] + 0.3 * 0.7)) < 1e-4);
                QVERIFY(std::abs(now[1] - 0.7 * before[1]) < 1e-4);
                QVERIFY(std::abs(now[2] - 0.7 * before[2]) < 1e-4);
            }
    }

    void blurIsAGaussianMean_data()
    {
        QTest::addColumn<double>("sigma");
        QTest::addColumn<double>("off"); // of light 0..1; wide ones are worked on reduced
        QTest::newRow("narrow") << 1.5 << 2e-3;
        QTest::newRow("reduced") << 9.0 << 6e-3;
    }
    void blurIsAGaussianMean()
    {
        QFETCH(const double, sigma);
        QFETCH(const double, off);
        Blur blur;
        blur.radiusPx = float(sigma);
        const LightTile was = plain(kAll);
        const LightTile is = after(blur, kAll);
        for (const auto &[x, y] : {std::pair(130, 90), {124, 60}, {40, 100}, {200, 40}, {3, 5}}) {
            double sum = 0;
            double weights = 0;
            for (int j = 0; j < kHeight; ++j)
                for (int i = 0; i < kWidth; ++i) {
                    const double d = (i - x) * (i - x) + (j - y) * (j - y);
                    const double w = std::exp(-d / (2 * sigma * sigma));
                    sum += w * double(*was.at(1, i, j));
                    weights += w;
                }
            const double error = std::abs(sum / weights - double(*is.at(1, x, y)));
            QVERIFY2(error < off, qPrintable(QString::number(error)));
        }
    }

    void textureBitesAndCalms()
    {
        const double was = grain(plain(kAll), kGround);
        Texture texture;
        texture.fine = 1;
        const LightTile bitten = after(texture, kAll);
        QVERIFY(grain(bitten, kGround) > 1.5 * was);
        texture.fine = -1;
        const LightTile calm = after(texture, kAll);
        QVERIFY(grain(calm, kGround) < 0.5 * was);
        // The edge stays, and gets no rim: both sides as they were, to a little.
        for (const LightTile *each : {&bitten, &calm})
            for (const int x : {120, 126, 133, 140}) {
                double before = 0;
                double now = 0;
                const LightTile photo = plain(kAll);
                for (int y = 40; y < 140; ++y) {
                    before += lightness(photo, x, y) / 100;
                    now += lightness(*each, x, y) / 100;
                }
                QVERIFY2(std::abs(now - before) < 0.02, qPrintable(QString::number(now - before)));
            }
    }

    void coarseTextureActsOnWhatIsWide()
    {
        const auto waves = test::levelsOf(300, 200, [](int x, int) {
            const int v = 120 + int(std::lround(10 * std::sin(x * 2 * M_PI / 40)));
            return std::array{v, v, v};
        });
        const auto swing = [&](const Texture &texture) {
            const auto source = NumberAdjustment<Texture>(texture).over(
                std::make_shared<const PhotoSource>(*waves));
            LightTile out(Rect{0, 0, 300, 200});
            if (!source->read(0, out, {}))
                return 0.0;
            double least = 1;
            double most = 0;
            for (int x = 100; x < 200; ++x) {
                least = std::min(least, lightness(out, x, 100));
                most = std::max(most, lightness(out, x, 100));
            }
            return most - least;
        };
        Texture texture;
        const double was = swing(texture);
        texture.coarse = 1;
        QVERIFY(swing(texture) > 1.3 * was);
        texture.coarse = -1;
        QVERIFY(swing(texture) < 0.75 * was);
        Texture fine;
        fine.fine = 1;
        QVERIFY(std::abs(swing(fine) - was) < 0.1 * was);
    }

    void vignettesFollowTheFrame()
    {
        const LightTile was = plain(kAll);
        const auto gainAt = [&](const Vignette &values, int x, int y) {
            const LightTile is = after(values, kAll);
            return double(*is.at(1, x, y)) / double(*was.at(1, x, y));
        };
        Vignette dark;
        dark.amount = -0.4F;
        QVERIFY(std::abs(gainAt(dark, kWidth / 2, kHeight / 2) - 1) < 1e-3);
        // The corner: 2 to the power of 2.5 x -0.4, nearly all of it.
        QVERIFY(std::abs(gainAt(dark, 0, 0) - 0.5) < 0.02);
        QVERIFY(gainAt(dark, 0, kHeight / 2) > gainAt(dark, 0, 0));
        // The same from all sides, and always less light farther out.
        const double left = gainAt(dark, 20, 30);
        QVERIFY(std::abs(gainAt(dark, kWidth - 21, kHeight - 31) - left) < 1e-5);
        double last = 2;
        for (int x = kWidth / 2; x < kWidth; x += 9) {
            const double gain = gainAt(dark, x, kHeight / 2);
            QVERIFY(gain <= last + 1e-6);
            last = gain;
        }
        Vignette round = dark;
        round.roundness = 1;
        QVERIFY(gainAt(round, 0, kHeight / 2) < gainAt(dark, 0, kHeight / 2));
        QVERIFY(gainAt(round, kWidth / 2, 0) > gainAt(dark, kWidth / 2, 0));
        Vignette frame = dark;
        frame.roundness = -1;
        QVERIFY(std::abs(gainAt(frame, 2, kHeight / 2) - gainAt(frame, kWidth / 2, 2)) < 0.05);
        Vignette sparing = dark;
        sparing.holdHighlights = 1;
        QVERIFY(gainAt(sparing, kWidth - 1, 0) > gainAt(dark, kWidth - 1, 0) + 0.1); // light there
        Vignette light = dark;
        light.amount = 0.4F;
        QVERIFY(std::abs(gainAt(light, 0, 0) * gainAt(dark, 0, 0) - 1) < 1e-3);
    }

    void partsAreTheSameBytes()
    {
        isTheSameInParts(Texture{0.5F, -0.7F});
        isTheSameInParts(Blur{2});
        isTheSameInParts(Blur{17});
        isTheSameInParts(Fog{0.4F});
        isTheSameInParts(Vignette{-0.5F, 0.4F, -0.3F, 0.8F, 0.2F});
    }

    void nothingIsTouchedWhereAllIsOff()
    {
        const LightTile was = plain(kAll);
        const LightTile is = after(Texture{}, kAll);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x)
                QVERIFY(is.isSameAt(was, x, y));
        QVERIFY(NumberAdjustment<Fog>().isOff() && NumberAdjustment<Blur>().isOff());
    }
};

BUTTONHOLE_TEST(TstLocalEffects)

#include "tst_local_effects.moc"
