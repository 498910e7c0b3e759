#include "colour/oklab.h"
#include "document/set_param.h"
#include "light/photo_light.h"
#include "light/white_balance.h"

#include "registry.h"
#include "samples.h"

#include <opencv2/imgproc.hpp>

#include <random>

using namespace buttonhole;

namespace
{

Vector3 lightAt(const Source &source, int x, int y)
{
    LightTile tile(Rect{x, y, x + 1, y + 1});
    const auto done = source.read(0, tile, {});
    return done ? Vector3{double(*tile.at(0, x, y)), double(*tile.at(1, x, y)),
                          double(*tile.at(2, x, y))}
                : Vector3{-9, -9, -9};
}

SourceRef litBy(const PhotoLevels &levels, const PhotoLight &light)
{
    return NumberAdjustment<PhotoLight>(light).over(std::make_shared<const PhotoSource>(levels));
}

Oklab labOf(const Vector3 &rgb)
{
    return toOklab(Profile::srgb().toXyz() * rgb);
}

/// How far a picture is from what it should be.
struct Difference {
    double lightness = 0; ///< mean of OKLab L over all
    double chroma = 0;    ///< mean distance in a, b over what should be neutral
};

/// A demo photo made smaller, in linear light.
cv::Mat3d demoLight(const char *name)
{
    const auto levels = PhotoLevels::load(test::demo(name).toStdString());
    const int level = (*levels)->levelWithin(640);
    const Rect area = (*levels)->rectOf(level);
    LightTile tile(area);
    (void)PhotoSource(**levels).read(level, tile, {});
    cv::Mat3d out(area.height(), area.width());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x)
            out(y, x) = {double(*tile.at(0, x, y)), double(*tile.at(1, x, y)),
                         double(*tile.at(2, x, y))};
    return out;
}

double encoded(double linear)
{
    const double v = std::clamp(linear, 0.0, 1.0);
    return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
}

/// As a camera would store it, under another light and by another exposure.
std::shared_ptr<const PhotoLevels> takenUnder(const cv::Mat3d &light, double ev,
                                              const Matrix3 &cast)
{
    return test::levelsOf(light.cols, light.rows, [&](int x, int y) {
        const cv::Vec3d &p = light(y, x);
        const Vector3 rgb = cast * Vector3{p[0], p[1], p[2]};
        std::array<int, 3> codes{};
        for (size_t i = 0; i < 3; ++i)
            codes[i] = int(std::lround(255 * encoded(rgb[i] * std::exp2(ev))));
        return codes;
    });
}

/// A black body's light instead of D65, by Bradford's cones (x and y by Y.-S. Kang et al., "Design
/// of advanced color temperature control system", 2002).
Matrix3 castOf(double kelvin)
{
    const Matrix3 bradford{
        {{0.8951, 0.2664, -0.1614}, {-0.7502, 1.7135, 0.0367}, {0.0389, -0.0685, 1.0296}}};
    const auto whiteOf = [](double t) {
        const double x =
            t < 4000 ? -0.2661239e9 / (t * t * t) - 0.2343589e6 / (t * t) + 877.6956 / t + 0.179910
                     : -3.0258469e9 / (t * t * t) + 2.1070379e6 / (t * t) + 222.6347 / t + 0.240390;
        const double y =
            t < 4000 ? -0.9549476 * x * x * x - 1.37418593 * x * x + 2.09137015 * x - 0.16748867
                     : 3.0817580 * x * x * x - 5.87338670 * x * x + 3.75112997 * x - 0.37001483;
        return Vector3{x / y, 1, (1 - x - y) / y};
    };
    const Vector3 to = bradford * whiteOf(kelvin);
    const Vector3 from = bradford * whiteOf(6504);
    const Matrix3 gains{
        {{to[0] / from[0], 0, 0}, {0, to[1] / from[1], 0}, {0, 0, to[2] / from[2]}}};
    const Matrix3 &toXyz = Profile::srgb().toXyz();
    return inverse(toXyz) * inverse(bradford) * gains * bradford * toXyz;
}

Difference differenceOf(const Source &source, const cv::Mat3d &truth)
{
    constexpr double kNeutral = 0.03;
    Difference out;
    double neutrals = 0;
    LightTile tile(source.rectOf(0));
    if (!source.read(0, tile, {}))
        return {9, 9};
    for (int y = 0; y < truth.rows; ++y)
        for (int x = 0; x < truth.cols; ++x) {
            Vector3 rgb{};
            for (int c = 0; c < 3; ++c)
                rgb[size_t(c)] = std::clamp(double(*tile.at(c, x, y)), 0.0, 1.0);
            const Oklab is = labOf(rgb);
            const Oklab should = labOf({truth(y, x)[0], truth(y, x)[1], truth(y, x)[2]});
            out.lightness += std::abs(is.L - should.L);
            if (chroma(should) < kNeutral) {
                out.chroma += std::hypot(is.a - should.a, is.b - should.b);
                neutrals += 1;
            }
        }
    out.lightness /= double(truth.total());
    out.chroma /= std::max(neutrals, 1.0);
    return out;
}

} // namespace

class TstPhotoLight : public QObject
{
    Q_OBJECT

    std::shared_ptr<const PhotoLevels> m_colours = test::levelsOf(64, 64, [](int x, int y) {
        return std::array{x * 4, y * 4, (x * 5 + y * 3) % 256};
    });

private Q_SLOTS:
    void exposureIsAFactorOfLight()
    {
        const auto lit = litBy(*m_colours, {1.5F});
        const PhotoSource plain(*m_colours);
        for (int i = 0; i < 64; i += 7) {
            const Vector3 before = lightAt(plain, i, 63 - i);
            const Vector3 after = lightAt(*lit, i, 63 - i);
            for (size_t c = 0; c < 3; ++c)
                QVERIFY(std::abs(after[c] - before[c] * std::exp2(1.5)) < 1e-6 + 1e-5 * after[c]);
        }
    }

    /// Hue and lightness stay; faint colours are moved more than strong ones.
    void saturationScalesChroma()
    {
        PhotoLight none;
        none.saturation = -1;
        PhotoLight faint;
        faint.faintColours = 1;
        const auto grey = litBy(*m_colours, none);
        const auto more = litBy(*m_colours, faint);
        const PhotoSource plain(*m_colours);
        for (int i = 8; i < 64; i += 5) {
            const Oklab before = labOf(lightAt(plain, i, 70 - i));
            const Oklab after = labOf(lightAt(*grey, i, 70 - i));
            QVERIFY(std::abs(after.L - before.L) < 1e-3 && chroma(after) < 1e-3);
            const Oklab brighter = labOf(lightAt(*more, i, 70 - i));
            const double c2 = chroma(before) * chroma(before);
            QVERIFY(std::abs(chroma(brighter) - chroma(before) * (1 + 1 / (1 + c2 / 0.0064))) <
                    2e-3);
        }
    }

    /// Whatever is set, what was lighter stays lighter, black and white ends included.
    void tonesKeepTheirOrder()
    {
        const auto greys = test::levelsOf(256, 1, [](int x, int) { return std::array{x, x, x}; });
        std::mt19937 random(3);
        std::uniform_int_distribution<int> pick(0, 4);
        for (int k = 0; k < 300; ++k) {
            PhotoLight light;
            for (const auto &row : PhotoLight::rows())
                if (std::string_view(row.id) != "temperature" &&
                    std::string_view(row.id) != "greenMagenta")
                    row.of(light) = row.least + float(pick(random)) / 4 * (row.most - row.least);
            const auto lit = litBy(*greys, light);
            LightTile tile(lit->rectOf(0));
            QVERIFY(lit->read(0, tile, {}));
            for (int x = 1; x < 256; ++x)
                QVERIFY2(*tile.at(1, x, 0) >= *tile.at(1, x - 1, 0) - 1e-6F,
                         qPrintable(QString::number(k)));
        }
    }

    void aGreyKeepsItsLuminanceUnderAnyBalance()
    {
        const auto grey = test::levelsOf(4, 4, [](int, int) { return std::array{120, 120, 120}; });
        const double before = (Profile::srgb().toXyz() * lightAt(PhotoSource(*grey), 1, 1))[1];
        for (const float t : {-1.0F, -0.4F, 0.5F, 1.0F})
            for (const float g : {-1.0F, 0.0F, 0.7F}) {
                PhotoLight light;
                light.temperature = t;
                light.greenMagenta = g;
                const Vector3 rgb = lightAt(*litBy(*grey, light), 1, 1);
                QVERIFY(std::abs((Profile::srgb().toXyz() * rgb)[1] - before) < 1e-4);
                if (g == 0)
                    QVERIFY((rgb[0] > rgb[2]) == (t > 0));
                if (g > 0)
                    QVERIFY(rgb[1] < (rgb[0] + rgb[2]) / 2);
            }
    }

    /// What is picked as neutral becomes so, under lamps and in the shade.
    void aPickedPlaceBecomesNeutral()
    {
        for (const double kelvin : {3200.0, 4500.0, 9000.0}) {
            const Vector3 cast = castOf(kelvin) * Vector3{0.3, 0.3, 0.3};
            PhotoLight light;
            light.contrast = 0.5F;
            const SourceColour space(Profile::srgb(), 8);
            light = neutralisedAt(light, cast, space);
            QCOMPARE(light.contrast, 0.5F);
            const Vector3 after =
                balanceMatrix(double(light.temperature), double(light.greenMagenta), space) * cast;
            QVERIFY2(chroma(labOf(after)) < 1e-5, qPrintable(QString::number(kelvin)));
            QVERIFY((kelvin < 6504) == (light.temperature < 0));
        }
    }

    void autoLightTakesBackWhatWentWrong_data()
    {
        QTest::addColumn<QString>("name");
        for (const char *name : {"button-jar.jpg", "loom.jpg", "mill-pond.jpg", "spools.jpg",
                                 "washing-line.jpg", "wool-basket.jpg"})
            QTest::newRow(name) << QString::fromLatin1(name);
    }
    void autoLightTakesBackWhatWentWrong()
    {
        QFETCH(QString, name);
        const cv::Mat3d truth = demoLight(qPrintable(name));
        const Matrix3 plain{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
        for (const double ev : {-2.0, 1.5}) {
            const auto levels = takenUnder(truth, ev, plain);
            const double before = differenceOf(PhotoSource(*levels), truth).lightness;
            const double after = differenceOf(*litBy(*levels, autoLight(*levels)), truth).lightness;
            QVERIFY2(after <= before / 2,
                     qPrintable(QStringLiteral("%1 EV: %2 -> %3").arg(ev).arg(before).arg(after)));
        }
        for (const double kelvin : {3200.0, 9000.0}) {
            const auto levels = takenUnder(truth, 0, castOf(kelvin));
            PhotoLight balance;
            const PhotoLight found = autoLight(*levels);
            balance.temperature = found.temperature;
            balance.greenMagenta = found.greenMagenta;
            const double before = differenceOf(PhotoSource(*levels), truth).chroma;
            const double after = differenceOf(*litBy(*levels, balance), truth).chroma;
            QVERIFY2(
                after <= before / 2,
                qPrintable(QStringLiteral("%1 K: %2 -> %3").arg(kelvin).arg(before).arg(after)));
        }
    }

    void autoLightClipsHardlyMore()
    {
        for (const char *name : {"button-jar.jpg", "mill-pond.jpg", "spools.jpg"}) {
            const auto levels = PhotoLevels::load(test::demo(name).toStdString()).value();
            const auto clipped = [&](const Source &source) {
                LightTile tile(source.rectOf(0));
                std::array<double, 2> out{};
                if (!source.read(0, tile, {}))
                    return std::array{1.0, 1.0};
                const Rect &area = tile.area();
                for (int y = area.y0; y < area.y1; ++y)
                    for (int x = area.x0; x < area.x1; ++x) {
                        const auto [least, most] =
                            std::minmax({*tile.at(0, x, y), *tile.at(1, x, y), *tile.at(2, x, y)});
                        out[0] += most <= 0.0001F ? 1 : 0;
                        out[1] += most >= 1 ? 1 : 0;
                    }
                return std::array{out[0] / double(area.area()), out[1] / double(area.area())};
            };
            const auto before = clipped(PhotoSource(*levels));
            const auto after = clipped(*litBy(*levels, autoLight(*levels)));
            QVERIFY2(after[0] - before[0] <= 0.001 && after[1] - before[1] <= 0.001,
                     qPrintable(QStringLiteral("%1: %2, %3")
                                    .arg(QLatin1String(name))
                                    .arg(after[0] - before[0])
                                    .arg(after[1] - before[1])));
        }
    }

    /// The command line sets what there is no line of yet; set back, nothing is left.
    void numbersMakeAndDropTheirLine()
    {
        auto take = withParam(makeTake(), "prepare.light.exposureEv=1");
        QVERIFY(take);
        QCOMPARE(take->prepare.size(), size_t(1));
        take = withParam(std::move(*take), "prepare.light.contrast=0.25");
        QVERIFY(take && take->prepare.size() == 1);
        QCOMPARE(take->prepare[0].adjustment->number(1), 0.25F);
        take = withParam(std::move(*take), "prepare.light.exposureEv=0");
        take = withParam(std::move(*take), "prepare.light.contrast=0");
        QVERIFY(take && take->prepare.empty());
        QVERIFY(!withParam(makeTake(), "prepare.light.exposureEv=6"));
        QVERIFY(!withParam(makeTake(), "prepare.lamp.exposureEv=1"));
    }
};

BUTTONHOLE_TEST(TstPhotoLight)
#include "tst_photo_light.moc"
