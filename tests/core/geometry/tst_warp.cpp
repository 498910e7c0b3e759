#include "geometry/warp.h"

#include "registry.h"

#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kWidth = 6000;
constexpr int kHeight = 4000;

Radial barrel()
{
    Radial out;
    out.by = {1.02F, 0.005F, -0.06F, 0.01F, 0, 0, 0};
    return out;
}

std::vector<Warp> allWarps()
{
    std::vector<Warp> out;
    for (const Straightening &by :
         {Straightening{}, Straightening{7.3F, 0, 0}, Straightening{-44, 0, 0},
          Straightening{0, 12, 0}, Straightening{0, 0, -20}, Straightening{-3, 15, 9}})
        for (const Radial &lens : {Radial(), barrel()})
            out.emplace_back(by, lens, kWidth, kHeight);
    return out;
}

/// How far the third place lies beside the line through the others, px.
double bend(const Warp::Place &a, const Warp::Place &b, const Warp::Place &c)
{
    const double dx = b[0] - a[0];
    const double dy = b[1] - a[1];
    return std::abs((c[0] - a[0]) * dy - (c[1] - a[1]) * dx) / std::hypot(dx, dy);
}

} // namespace

/// Photos levelled: where their points go.
class TstWarp : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void placesGoThereAndBack()
    {
        for (const Warp &warp : allWarps()) {
            double worst = 0;
            for (int y = 0; y <= kHeight; y += 250)
                for (int x = 0; x <= kWidth; x += 250) {
                    const auto [u, v] = warp.toLevelled(x, y);
                    const auto [backX, backY] = warp.toPhoto(u, v);
                    worst = std::max(worst, std::hypot(backX - x, backY - y));
                }
            QVERIFY2(worst <= 0.02, qPrintable(QString::number(worst)));
        }
    }

    void theMiddleStaysAndItsScale()
    {
        for (const Warp &warp : allWarps()) {
            const auto [x, y] = warp.toLevelled(kWidth / 2.0, kHeight / 2.0);
            QVERIFY(std::hypot(x - kWidth / 2.0, y - kHeight / 2.0) < 1e-6);
        }
        const Warp tilted({4, 18, -7}, {}, kWidth, kHeight);
        const auto [ax, ay] = tilted.toLevelled(kWidth / 2.0 + 1, kHeight / 2.0);
        const auto [bx, by] = tilted.toLevelled(kWidth / 2.0, kHeight / 2.0 + 1);
        const double area =
            (ax - kWidth / 2.0) * (by - kHeight / 2.0) - (ay - kHeight / 2.0) * (bx - kWidth / 2.0);
        QVERIFY2(std::abs(area - 1) < 0.001, qPrintable(QString::number(area)));
    }

    void anAngleTurnsClockwise()
    {
        const Warp warp({30, 0, 0}, {}, kWidth, kHeight);
        const auto [x, y] = warp.toLevelled(kWidth / 2.0 + 100, kHeight / 2.0);
        QVERIFY(std::abs(x - kWidth / 2.0 - 86.6025) < 1e-3);
        QVERIFY(std::abs(y - kHeight / 2.0 - 50) < 1e-3);
    }

    /// Uprights that lean together by a camera tilted up stand straight again.
    void aTiltSetsUprightsApart()
    {
        // The camera of the model: a focal length of the diagonal, tilted up by 10 degrees.
        const double tilt = 10 * M_PI / 180;
        const double focal = std::hypot(kWidth, kHeight);
        const auto seen = [&](double x, double y) { // of a wall one focal length away
            const double z = focal * std::cos(tilt) - y * std::sin(tilt);
            const double up = y * std::cos(tilt) + focal * std::sin(tilt);
            return Warp::Place{x * focal / z + kWidth / 2.0, up * focal / z + kHeight / 2.0};
        };
        const Warp warp({0, 10, 0}, {}, kWidth, kHeight);
        for (const double x : {-2000.0, 1500.0}) {
            const auto top = seen(x, -2500);
            const auto foot = seen(x, -200);
            QVERIFY(std::abs(top[0] - foot[0]) > 50); // leaning
            const auto a = warp.toLevelled(top[0], top[1]);
            const auto b = warp.toLevelled(foot[0], foot[1]);
            QVERIFY2(std::abs(a[0] - b[0]) < 0.01, qPrintable(QString::number(a[0] - b[0])));
        }
    }

    void straightLinesStayStraightButForTheLens()
    {
        const Warp turned({-3, 15, 9}, {}, kWidth, kHeight);
        const auto bendOf = [](const Warp &warp) {
            return bend(warp.toLevelled(300, 200), warp.toLevelled(5700, 900),
                        warp.toLevelled(3000, 550));
        };
        QVERIFY(bendOf(turned) < 1e-6);
        QVERIFY(bendOf(Warp({}, barrel(), kWidth, kHeight)) > 20);
    }

    void theLargestPartIsFilledAndCannotGrow()
    {
        for (const Warp &warp : allWarps()) {
            const Rect part = warp.largestFilled();
            QVERIFY(warp.isFilled(part));
            QVERIFY2(std::abs(double(part.width()) / part.height() - 1.5) < 0.01,
                     qPrintable(QStringLiteral("%1 x %2").arg(part.width()).arg(part.height())));
            if (warp.isNone()) {
                QCOMPARE(part, (Rect{0, 0, kWidth, kHeight}));
                continue;
            }
            constexpr int kMore = 40;
            const Rect larger{part.x0 - kMore * 3 / 2, part.y0 - kMore, part.x1 + kMore * 3 / 2,
                              part.y1 + kMore};
            QVERIFY(!warp.isFilled(larger));
        }
        // A turn alone: known from the rotated rectangle.
        const Rect turned = Warp({5, 0, 0}, {}, kWidth, kHeight).largestFilled();
        const double a = 5 * M_PI / 180;
        const double share = kHeight / (kWidth * std::sin(a) + kHeight * std::cos(a));
        QVERIFY(std::abs(turned.width() - share * kWidth) < 4);
    }

    void aCropIsBroughtInside()
    {
        const Warp warp({8, 0, 0}, {}, kWidth, kHeight);
        const Rect inside{2500, 1500, 3000, 2400};
        QCOMPARE(warp.filledPart(inside), inside);
        for (const Rect &crop : {Rect{0, 0, 1000, 1000}, Rect{0, 0, kWidth, kHeight},
                                 Rect{5000, 3000, kWidth, kHeight}, Rect{0, 0, 400, kHeight}}) {
            const Rect made = warp.filledPart(crop);
            QVERIFY(warp.isFilled(made));
            QVERIFY(std::abs(double(made.width()) / made.height() /
                                 (double(crop.width()) / crop.height()) -
                             1) < 0.02);
        }
        // One that fits elsewhere keeps its size.
        QVERIFY(std::abs(warp.filledPart({0, 0, 1000, 1000}).width() - 1000) < 3);
    }
};

BUTTONHOLE_TEST(TstWarp)
#include "tst_warp.moc"
