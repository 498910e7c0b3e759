#include "mask/outline_step.h"

#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <cmath>

using namespace buttonhole;
using nlohmann::json;

namespace
{

const std::shared_ptr<const PhotoLevels> &photo()
{
    static const auto levels = *PhotoLevels::make(test::makePhoto(300, 200));
    return levels;
}

std::vector<uint16_t> coverageOf(const StepShape &shape, const Rect &area, int level = 0)
{
    std::vector<uint16_t> lo(area.area());
    std::vector<uint16_t> hi(area.area());
    if (shape.coverage(*photo(), level, area, lo.data(), hi.data()) == StepShape::Effect::None)
        std::fill(lo.begin(), lo.end(), uint16_t(0));
    return lo;
}

double areaOf(const std::vector<uint16_t> &mask)
{
    double sum = 0;
    for (const uint16_t v : mask)
        sum += v / 65535.0;
    return sum;
}

Outline corners(std::initializer_list<PhotoPoint> points)
{
    Outline out;
    for (const PhotoPoint &p : points)
        out.push_back({p, {}, {}});
    return out;
}

/// A circle of four smooth points (the usual handles: within 0.03 % of the radius).
Outline circle(float x, float y, float r)
{
    const float k = 0.5522847F * r;
    return {{{x + r, y}, {0, -k}, {0, k}},
            {{x, y + r}, {k, 0}, {-k, 0}},
            {{x - r, y}, {0, k}, {0, -k}},
            {{x, y - r}, {-k, 0}, {k, 0}}};
}

const Rect kAll{0, 0, 300, 200};

} // namespace

class TstOutline : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void coversTheExactShareOfEachPixel()
    {
        const auto box = coverageOf(
            OutlineStep({corners({{10.25F, 20.5F}, {40, 20.5F}, {40, 60}, {10.25F, 60}})}), kAll);
        const auto at = [&](int x, int y) { return int(box[size_t(y) * 300 + size_t(x)]); };
        QCOMPARE(at(20, 30), 65535);
        QVERIFY(std::abs(at(10, 30) - 49151) <= 1); // three quarters
        QVERIFY(std::abs(at(20, 20) - 32767) <= 1);
        QVERIFY(std::abs(at(10, 20) - 24575) <= 1); // three eighths
        QCOMPARE(at(40, 30), 0);
        QCOMPARE(at(9, 30), 0);
        const auto triangle = coverageOf(
            OutlineStep({corners({{33.3F, 11.1F}, {250.7F, 71.9F}, {120.2F, 190.4F}})}), kAll);
        const double exact =
            0.5 * std::abs((250.7 - 33.3) * (190.4 - 11.1) - (120.2 - 33.3) * (71.9 - 11.1));
        QVERIFY(std::abs(areaOf(triangle) - exact) < 0.05);
    }

    void curvesHolesAndCrossings()
    {
        const double pi = 3.14159265358979;
        const OutlineStep disc({circle(150, 100, 80)});
        QVERIFY(std::abs(areaOf(coverageOf(disc, kAll)) - pi * 6400) < 12);
        const OutlineStep ring({circle(150, 100, 80), circle(150, 100, 50)});
        QVERIFY(std::abs(areaOf(coverageOf(ring, kAll)) - pi * (6400 - 2500)) < 12);
        QCOMPARE(int(coverageOf(ring, {150, 100, 151, 101})[0]), 0);
        // Both loops of an eight are inside.
        const OutlineStep eight({corners({{50, 50}, {150, 150}, {150, 50}, {50, 150}})});
        QVERIFY(std::abs(areaOf(coverageOf(eight, kAll)) - 5000) < 0.1);
        QCOMPARE(OutlineStep({corners({{1, 1}, {2, 2}})}).facts(),
                 (StepFacts{{"lines", 1}, {"points", 2}}));
    }

    /// A point more on a curve leaves it as it is; on a straight line it is a corner.
    void aSplitSegmentKeepsItsForm()
    {
        Outline line = circle(150, 100, 80);
        const auto before = coverageOf(OutlineStep({line}), kAll);
        const size_t n = line.size();
        splitSegment(line, 1, 0.3F);
        splitSegment(line, n, 0.8F); // the last segment, that closes it
        QCOMPARE(line.size(), n + 2);
        const auto after = coverageOf(OutlineStep({line}), kAll);
        int most = 0;
        for (size_t i = 0; i < before.size(); ++i)
            most = std::max(most, std::abs(int(before[i]) - int(after[i])));
        QVERIFY2(most < 65536 / 30, qPrintable(QString::number(most))); // flattened to 0.02 px
        Outline box = corners({{0, 0}, {100, 0}, {100, 100}});
        splitSegment(box, 0, 0.25F);
        QCOMPARE(box[1], (OutlinePoint{{25, 0}, {}, {}}));
    }

    void partsAreTheWholeOnEveryLevel()
    {
        const OutlineStep shape({circle(140.3F, 90.7F, 75.2F), circle(-20, 10, 60),
                                 corners({{200, -50}, {400, 90}, {222.2F, 260}})});
        for (const int level : {0, 1, 3}) {
            const Rect all = photo()->rectOf(std::min(level, photo()->count() - 1));
            const auto whole = coverageOf(shape, all, level);
            for (const Rect &part :
                 {Rect{0, 0, all.x1 / 3, all.y1}, Rect{all.x1 / 3, 2, all.x1, 9}}) {
                const auto values = coverageOf(shape, part, level);
                for (int y = part.y0; y < part.y1; ++y)
                    for (int x = part.x0; x < part.x1; ++x)
                        QCOMPARE(values[size_t(y - part.y0) * size_t(part.width()) +
                                        size_t(x - part.x0)],
                                 whole[size_t(y) * size_t(all.x1) + size_t(x)]);
            }
        }
        const auto full = coverageOf(shape, kAll);
        const auto half = coverageOf(shape, photo()->rectOf(1), 1);
        QVERIFY(std::abs(areaOf(full) - 4 * areaOf(half)) < 20);
    }

    void comesBackFromJson()
    {
        struct NoReader final : MaskReader {
            Result<MaskPlane> get(const json &) override { return Error{}; }
        } reader;
        const OutlineStep shape({circle(10, 20, 5), corners({{1, 2}, {3, 4}, {5, 6}})});
        json out{{"kind", "outline"}};
        shape.toJson(out, nullptr, "x");
        const auto read = stepFromJson(json::parse(out.dump()), reader);
        QVERIFY(read);
        QCOMPARE(static_cast<const OutlineStep &>(**read).outlines(), shape.outlines());
        out["outlines"][0][0] = {1, 2, 3};
        QVERIFY(!stepFromJson(out, reader));
        out["outlines"][0][0] = {1, 1e12};
        QVERIFY(!stepFromJson(out, reader));
    }
};

BUTTONHOLE_TEST(TstOutline)

#include "tst_outline.moc"
