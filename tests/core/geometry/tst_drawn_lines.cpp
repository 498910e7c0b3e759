#include "geometry/drawn_lines.h"

#include "registry.h"

#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kDrawnWidth = 3000;
constexpr int kDrawnHeight = 2000;

PhotoPoint seenAt(const Warp &warp, double x, double y)
{
    const auto [u, v] = warp.toPhoto(x, y);
    return {float(u), float(v)};
}

/// A line of the levelled photo, as it is in the photo.
DrawnLine lineOf(const Warp &warp, double x0, double y0, double x1, double y1)
{
    return {seenAt(warp, x0, y0), seenAt(warp, x1, y1)};
}

} // namespace

/// Photos straightened along lines that were drawn.
class TstDrawnLines : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void oneLineSetsTheAngle()
    {
        for (const float angle : {-30.0F, -4.0F, 2.5F, 20.0F}) {
            const Warp warp({angle, 0, 0}, {}, kDrawnWidth, kDrawnHeight);
            for (const DrawnLine &line :
                 {lineOf(warp, 400, 700, 2500, 700), lineOf(warp, 800, 1700, 800, 100)}) {
                const Straightening found =
                    straightenedBy({line}, {}, {}, kDrawnWidth, kDrawnHeight);
                QVERIFY(std::abs(found.angleDeg - angle) < 0.01F);
                QCOMPARE(found.verticalDeg, 0.0F);
            }
        }
    }

    void twoUprightsSetTheTiltToo()
    {
        Radial lens;
        lens.by[2] = -0.04F;
        for (const Straightening &by :
             {Straightening{3, 12, 0}, Straightening{-6, -8, 0}, Straightening{0, 20, 0}}) {
            const Warp warp(by, lens, kDrawnWidth, kDrawnHeight);
            const Straightening found = straightenedBy(
                {lineOf(warp, 600, 300, 600, 1700), lineOf(warp, 2300, 1500, 2300, 400)}, {}, lens,
                kDrawnWidth, kDrawnHeight);
            const Warp made(found, lens, kDrawnWidth, kDrawnHeight);
            for (const double x : {600.0, 2300.0}) {
                const auto top = seenAt(warp, x, 300);
                const auto foot = seenAt(warp, x, 1700);
                const auto a = made.toLevelled(double(top.x), double(top.y));
                const auto b = made.toLevelled(double(foot.x), double(foot.y));
                QVERIFY2(std::abs(a[0] - b[0]) < 1, qPrintable(QString::number(a[0] - b[0])));
            }
            QVERIFY(std::abs(found.verticalDeg - by.verticalDeg) < 0.5F);
        }
    }

    void levelLinesSetTheOther()
    {
        const Warp warp({0, 0, 15}, {}, kDrawnWidth, kDrawnHeight);
        const Straightening found =
            straightenedBy({lineOf(warp, 400, 500, 2600, 500), lineOf(warp, 400, 1600, 2600, 1600)},
                           {}, {}, kDrawnWidth, kDrawnHeight);
        QVERIFY2(std::abs(found.horizontalDeg - 15) < 0.1F,
                 qPrintable(QString::number(double(found.horizontalDeg))));
        QVERIFY(std::abs(found.angleDeg) < 0.1F);
    }

    void whatCannotBeStaysWithinBounds()
    {
        // Two uprights that cross: no camera saw them so.
        const std::vector<DrawnLine> crossing{
            {{500, 100}, {2500, 1990}}, {{2500, 100}, {500, 1990}}, {{10, 10}, {10, 10}}};
        const Straightening found = straightenedBy(crossing, {}, {}, kDrawnWidth, kDrawnHeight);
        QVERIFY(checkParams(found, Straightening::rows()));
    }
};

BUTTONHOLE_TEST(TstDrawnLines)

#include "tst_drawn_lines.moc"
