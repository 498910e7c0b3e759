#include "raster/edge_trace.h"

#include "registry.h"

#include <cmath>

using namespace buttonhole;

class TstEdgeTrace : public QObject
{
    Q_OBJECT

    static std::vector<uint16_t> disk(int size, double radius)
    {
        std::vector<uint16_t> mask(size_t(size) * size_t(size));
        for (int y = 0; y < size; ++y)
            for (int x = 0; x < size; ++x) {
                const double d = std::hypot(x + 0.5 - size / 2.0, y + 0.5 - size / 2.0);
                mask[size_t(y) * size_t(size) + size_t(x)] =
                    uint16_t(std::clamp(radius + 0.5 - d, 0.0, 1.0) * 65535);
            }
        return mask;
    }

private Q_SLOTS:
    void aDiskHasOneClosedEdgeAtItsRadius()
    {
        const auto mask = disk(100, 30);
        const auto lines = traceEdge(mask.data(), 100, 100);
        QCOMPARE(lines.size(), size_t(1));
        QVERIFY(lines[0].isClosed);
        for (const EdgePoint &p : lines[0].points)
            QVERIFY(std::abs(std::hypot(p.x - 50, p.y - 50) - 30) < 0.15F);
        // The covered side is to the right: with y down that is clockwise on the screen.
        double area = 0;
        const auto &points = lines[0].points;
        for (size_t i = 0; i < points.size(); ++i) {
            const EdgePoint &a = points[i];
            const EdgePoint &b = points[(i + 1) % points.size()];
            area += double(a.x) * double(b.y) - double(b.x) * double(a.y);
        }
        QVERIFY(std::abs(area / 2 - M_PI * 900) < 40);
    }

    void movedOutwardGrowsTheEdge()
    {
        const auto mask = disk(100, 30);
        const EdgeLine moved = movedOutward(traceEdge(mask.data(), 100, 100)[0], 3);
        for (const EdgePoint &p : moved.points)
            QVERIFY(std::abs(std::hypot(p.x - 50, p.y - 50) - 33) < 0.3F);
    }

    void edgesEndAtTheBorder()
    {
        std::vector<uint16_t> mask(40 * 20, 0);
        for (int y = 0; y < 20; ++y)
            std::fill_n(mask.begin() + y * 40, 17, uint16_t(65535));
        const auto lines = traceEdge(mask.data(), 40, 20);
        QCOMPARE(lines.size(), size_t(1));
        QVERIFY(!lines[0].isClosed);
        for (const EdgePoint &p : lines[0].points)
            QCOMPARE(p.x, 17.0F);
    }

    void touchingCornersStayApart()
    {
        std::vector<uint16_t> mask(6 * 6, 0);
        mask[2 * 6 + 2] = mask[3 * 6 + 3] = 65535;
        QCOMPARE(traceEdge(mask.data(), 6, 6).size(), size_t(2));
    }

    void nothingToTrace()
    {
        const std::vector<uint16_t> none(100, 0);
        const std::vector<uint16_t> all(100, 65535);
        QVERIFY(traceEdge(none.data(), 10, 10).empty());
        QVERIFY(traceEdge(all.data(), 10, 10).empty());
        QVERIFY(traceEdge(none.data(), 1, 1).empty());
    }
};

BUTTONHOLE_TEST(TstEdgeTrace)

#include "tst_edge_trace.moc"
