#include "segment/edge_path.h"

#include "registry.h"
#include "samples.h"

#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kSide = 900;
constexpr double kMiddle = 450.5;
constexpr double kRadius = 200;

/// A red disc on grey.
std::array<int, 3> disc(int x, int y)
{
    const int grain = (x * 7 + y * 13) % 7 - 3;
    return std::hypot(x + 0.5 - kMiddle, y + 0.5 - kMiddle) < kRadius
               ? std::array{170 + grain, 50 + grain, 60 + grain}
               : std::array{120 + grain, 118 + grain, 112 + grain};
}

PhotoPoint onEdge(double angle)
{
    return {float(kMiddle + kRadius * std::cos(angle)), float(kMiddle + kRadius * std::sin(angle))};
}

/// The farthest that a line from a point on the edge strays from the edge.
double strayOf(const PhotoPoint &from, const std::vector<PhotoPoint> &line)
{
    double most = 0;
    PhotoPoint last = from;
    for (const PhotoPoint &next : line) {
        for (double t = 0; t <= 1; t += 0.1) {
            const double x = last.x + t * (next.x - last.x);
            const double y = last.y + t * (next.y - last.y);
            most = std::max(most, std::abs(std::hypot(x - kMiddle, y - kMiddle) - kRadius));
        }
        last = next;
    }
    return most;
}

} // namespace

/// Lines that hug edges between two clicks.
class TstEdgePath : public QObject
{
    Q_OBJECT
    std::shared_ptr<const PhotoLevels> m_levels = test::levelsOf(kSide, kSide, disc);

private Q_SLOTS:
    void aLineFollowsTheEdge_data()
    {
        QTest::addColumn<int>("level");
        QTest::newRow("the photo's own pixels") << 0;
        QTest::newRow("half of them") << 1;
        QTest::newRow("no such level") << 99;
    }
    void aLineFollowsTheEdge()
    {
        QFETCH(int, level);
        const PhotoPoint from = onEdge(0.2);
        const PhotoPoint to = onEdge(1.4);
        const auto line = EdgePath(*m_levels, from, level).to(to);
        QVERIFY(line.size() > 3); // a chord would cut off 35 px
        QVERIFY(line.back() == to);
        const double px = std::exp2(std::min(level, m_levels->count() - 1));
        QVERIFY2(strayOf(from, line) < 2.5 * px, qPrintable(QString::number(strayOf(from, line))));
    }

    /// A checked cloth round it has stronger edges, but none that goes the line's way.
    void whatIsPatternedRoundItDoesNotPullIt()
    {
        const auto levels = test::levelsOf(kSide, kSide, [](int x, int y) {
            if (std::hypot(x + 0.5 - kMiddle, y + 0.5 - kMiddle) < kRadius)
                return std::array{50, 70, 140};
            const int shade = (x / 14 + y / 14) % 2 ? 60 : 0;
            return std::array{150 - shade, 140 - shade, 120 + shade / 2};
        });
        for (const double angle : {0.0, 0.9, 2.0, 3.5}) {
            const auto line = EdgePath(*levels, onEdge(angle), 0).to(onEdge(angle + 0.5));
            const double stray = strayOf(onEdge(angle), line);
            QVERIFY2(stray < 3, qPrintable(QString::number(stray)));
        }
    }

    void oneLookGivesManyLines()
    {
        const EdgePath path(*m_levels, onEdge(0.5), 0);
        for (double angle = 0.6; angle < 1.5; angle += 0.1)
            QVERIFY(strayOf(onEdge(0.5), path.to(onEdge(angle))) < 2.5);
        QVERIFY(path.to(onEdge(0.5)).back() == onEdge(0.5)); // where it starts, too
    }

    /// Without a spike there, that is; but no farther than it may, and exactly where it must.
    void aClickBesideTheEdgeEndsOnIt()
    {
        const EdgePath path(*m_levels, onEdge(0.5), 0);
        for (const double off : {-3.0, -4.0, -5.0}) {
            const double outward = (kRadius + off) / kRadius;
            const PhotoPoint on = onEdge(1.2);
            const PhotoPoint at{float(kMiddle + outward * (on.x - kMiddle)),
                                float(kMiddle + outward * (on.y - kMiddle))};
            const double stray = strayOf(onEdge(0.5), path.to(at, 6));
            QVERIFY2(stray < 2.5, qPrintable(QString::number(stray)));
            QVERIFY(path.to(at).back() == at);
            const PhotoPoint little = path.to(at, 2).back();
            QVERIFY(std::hypot(little.x - at.x, little.y - at.y) < 2.1);
        }
    }

    /// Looked over are some 500 px to every side; the end is where it was put all the same.
    void beyondWhatWasLookedOverItEndsWhereItWasPut()
    {
        const EdgePath path(*m_levels, onEdge(0), 0);
        const PhotoPoint far{10.25F, 20.5F}; // 650 px off
        QVERIFY(path.to(far).back() == far);
        const PhotoPoint outside{-500, 4000};
        QVERIFY(path.to(outside).back() == outside);
        // And so where it starts outside of the photo.
        QVERIFY(EdgePath(*m_levels, outside, 0).to(far).back() == far);
    }
};

BUTTONHOLE_TEST(TstEdgePath)

#include "tst_edge_path.moc"
