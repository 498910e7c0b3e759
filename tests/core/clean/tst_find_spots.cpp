#include "clean/find_spots.h"
#include "colour/srgb_curve.h"

#include "registry.h"
#include "samples.h"

#include <cmath>
#include <random>

using namespace buttonhole;

namespace
{

struct Planted {
    double x;
    double y;
    double radius;
    double share; ///< of light that it takes
};

/// A demo photo enlarged to 24 megapixels, noise on it as a sensor has it, dust planted where the
/// ground is even.
struct DustyPhoto {
    std::shared_ptr<const PhotoLevels> levels;
    std::vector<Planted> dust;
};

double sample(const Photo &photo, double x, double y, int c)
{
    const int x0 = std::clamp(int(x - 0.5), 0, photo.width - 2);
    const int y0 = std::clamp(int(y - 0.5), 0, photo.height - 2);
    const double tx = std::clamp(x - 0.5 - x0, 0.0, 1.0);
    const double ty = std::clamp(y - 0.5 - y0, 0.0, 1.0);
    const auto &pixels = std::get<Image<uint8_t>>(photo.pixels);
    const auto at = [&](int i, int j) { return double(pixels.pixel(x0 + i, y0 + j)[c]); };
    return (1 - ty) * ((1 - tx) * at(0, 0) + tx * at(1, 0)) +
           ty * ((1 - tx) * at(0, 1) + tx * at(1, 1));
}

DustyPhoto dusty(const char *name, int count)
{
    const auto small = PhotoLevels::load(std::string(BUTTONHOLE_DEMO "/") + name);
    const Photo &from = (*small)->photo();
    const double scale = 6000.0 / from.width;
    const int width = 6000;
    const int height = int(from.height * scale);
    std::mt19937 random(11);
    const auto uniform = [&](double a, double b) {
        return a + (b - a) * double(random() % 100000) / 1e5;
    };
    DustyPhoto out;
    for (int tries = 0; int(out.dust.size()) < count && tries < 40000; ++tries) {
        Planted p{uniform(80, width - 80), uniform(80, height - 80),
                  std::exp(uniform(std::log(3.0), std::log(20.0))), uniform(0.04, 0.2)};
        double sum = 0;
        double squares = 0;
        constexpr int kAround = 6;
        for (int j = -kAround; j <= kAround; ++j)
            for (int i = -kAround; i <= kAround; ++i) {
                const double v = sample(from, p.x / scale + 3 * i, p.y / scale + 3 * j, 1);
                sum += v, squares += v * v;
            }
        constexpr double n = (2 * kAround + 1) * (2 * kAround + 1);
        const double mean = sum / n;
        const double spread = std::sqrt(std::max(squares / n - mean * mean, 0.0));
        const bool isEven = mean > 60 && spread < 0.03 * mean;
        const bool isAlone =
            std::none_of(out.dust.begin(), out.dust.end(), [&](const Planted &other) {
                return std::hypot(other.x - p.x, other.y - p.y) < 120;
            });
        if (isEven && isAlone)
            out.dust.push_back(p);
    }
    auto photo = std::make_shared<Photo>();
    photo->width = width;
    photo->height = height;
    Image<uint8_t> pixels(width, height, 3);
    std::vector<float> kept(size_t(width) * size_t(height), 1.0F);
    for (const Planted &p : out.dust) {
        const int reach = int(2 * p.radius) + 3;
        for (int j = -reach; j <= reach; ++j)
            for (int i = -reach; i <= reach; ++i) {
                const double x = std::floor(p.x) + i;
                const double y = std::floor(p.y) + j;
                const double q = std::hypot(x + 0.5 - p.x, y + 0.5 - p.y) / p.radius;
                kept[size_t(y) * size_t(width) + size_t(x)] -=
                    float(p.share / (1 + std::exp((q - 1) / 0.12)));
            }
    }
    uint32_t seed = 1;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            seed = seed * 1664525U + 1013904223U;
            const double noise = double(seed >> 24) / 128 + double(seed >> 16 & 255U) / 128 - 2;
            for (int c = 0; c < 3; ++c) {
                const double code = sample(from, (x + 0.5) / scale, (y + 0.5) / scale, c);
                const double keeps =
                    std::pow(double(kept[size_t(y) * size_t(width) + size_t(x)]), 1 / 2.2);
                pixels.pixel(x, y)[c] =
                    uint8_t(std::clamp(code * keeps + 0.7 * noise + 0.5, 0.0, 255.0));
            }
        }
    photo->pixels = std::move(pixels);
    out.levels = *PhotoLevels::make(photo);
    return out;
}

} // namespace

/// Dust found on photos.
class TstFindSpots : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void plantedDustIsFound_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<double>("leastFound");
        QTest::newRow("washing line") << QStringLiteral("washing-line.jpg") << 0.9;
        // Its ground is cloth: the smallest and faintest are lost in it.
        QTest::newRow("wool") << QStringLiteral("wool-basket.jpg") << 0.7;
    }

    void plantedDustIsFound()
    {
        QFETCH(const QString, name);
        QFETCH(const double, leastFound);
        const DustyPhoto photo = dusty(name.toUtf8().constData(), 60);
        QCOMPARE(photo.dust.size(), size_t(60));
        const auto found = findSpots(*photo.levels);
        QVERIFY(found);
        int hits = 0;
        for (const Planted &p : photo.dust)
            hits += std::any_of(found->begin(), found->end(),
                                [&](const Spot &spot) {
                                    return std::hypot(double(spot.x) - p.x, double(spot.y) - p.y) <
                                           std::max(4.0, 0.6 * p.radius);
                                })
                        ? 1
                        : 0;
        int right = 0;
        for (const Spot &spot : *found)
            right += std::any_of(photo.dust.begin(), photo.dust.end(),
                                 [&](const Planted &p) {
                                     return std::hypot(double(spot.x) - p.x, double(spot.y) - p.y) <
                                            std::max(4.0, 0.7 * p.radius);
                                 })
                         ? 1
                         : 0;
        const double recall = hits / 60.0;
        const double precision = right / double(std::max(size_t(1), found->size()));
        const QString got = QStringLiteral("recall %1, precision %2").arg(recall).arg(precision);
        QVERIFY2(recall >= leastFound, qPrintable(got));
        QVERIFY2(precision >= 0.9, qPrintable(got));
    }

    void cleanAndSmallPhotosHaveNone()
    {
        const auto plain = test::levelsOf(300, 200, [](int, int) {
            return std::array{90, 120, 150};
        });
        const auto none = findSpots(*plain);
        QVERIFY(none);
        QVERIFY(none->empty());
        const auto tiny = test::levelsOf(5, 3, [](int x, int y) {
            return std::array{x * 9, y * 9, 8};
        });
        QVERIFY(findSpots(*tiny));
    }
};

BUTTONHOLE_TEST(TstFindSpots)

#include "tst_find_spots.moc"
