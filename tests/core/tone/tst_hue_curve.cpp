#include "grey_samples.h"
#include "registry.h"
#include "tone/hue_curve.h"

using namespace buttonhole;
using namespace buttonhole::test;

class TstHueCurve : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void theHueCurveGoesThroughItsPoints()
    {
        const std::vector<HuePoint> points{
            {10, 60, 30}, {30, -40, 30}, {200, 90, 50}, {350, -20, 40}};
        const HueCurve curve(points);
        for (const HuePoint &point : points)
            QVERIFY(std::abs(curve.value(point.hueDeg) - point.value) < 1e-9);
        QVERIFY(std::abs(curve.value(120)) < 1e-9); // out of everyone's reach
        QVERIFY(std::abs(curve.value(0) - curve.value(360)) < 1e-9);
        QVERIFY(std::abs(curve.value(-10) - curve.value(350)) < 1e-9);
        double last = curve.value(0);
        for (double hue = 0.25; hue <= 360; hue += 0.25) {
            const double here = curve.value(hue);
            QVERIFY(here >= -40 - 1e-9 && here <= 90 + 1e-9); // never beyond the points
            QVERIFY(std::abs(here - last) < 2.5);             // no jumps
            last = here;
        }
        // Widening a point never makes the curve jump.
        std::vector<HuePoint> wide{{100, 80, 20}, {160, 80, 20}};
        double before = HueCurve(wide).value(130);
        for (float width = 20; width < 120; width += 0.5F) {
            wide[0].widthDeg = width;
            const double here = HueCurve(wide).value(130);
            QVERIFY(here >= before - 1e-6 && here - before < 6);
            before = here;
        }
        QCOMPARE(HueCurve({}).value(77), 0.0);
    }

    void aHueIsGrabbedOrPutOnTheCurve()
    {
        std::vector<HuePoint> points{{40, 50, 40}};
        QCOMPARE(grabHuePoint(points, 55), size_t(0)); // within half its width
        QCOMPARE(points.size(), size_t(1));
        const double there = HueCurve(points).value(65);
        const size_t at = grabHuePoint(points, 65);
        QCOMPARE(at, size_t(1));
        QVERIFY(std::abs(points[1].value - there) < 1e-4);
        QCOMPARE(grabHuePoint(points, 355), size_t(2));
        QCOMPARE(tidied({{10, 5, 40}, {13, 7, 40}, {200, 1, 40}}).size(), size_t(2));
    }

    void theHueCurveLiftsOneHueAndLeavesOthers()
    {
        const auto patches = [] {
            return paint(360, 4, [](int x, int) {
                const double h = x * 3.14159265358979 / 180;
                return codesOf({0.6, 0.1 * std::cos(h), 0.1 * std::sin(h)});
            });
        };
        GreyMix mix;
        mix.hue = {{255, 100, 30}};
        const auto plain = render(patches(), {});
        const auto lifted = render(patches(), mix);
        mix.hue[0].value = -100;
        const auto lowered = render(patches(), mix);
        QVERIFY(lifted[3 * 255] > plain[3 * 255] + 8000);
        QVERIFY(lowered[3 * 255] < plain[3 * 255] - 8000);
        for (const int hue : {0, 60, 150, 200, 320})
            QCOMPARE(lifted[size_t(3 * hue)], plain[size_t(3 * hue)]);
        // A sweep over all hues has no steps: neighbours a degree apart, second differences small.
        for (size_t i = 1; i + 1 < 360; ++i) {
            const int bend =
                int(lifted[3 * i + 3]) - 2 * int(lifted[3 * i]) + int(lifted[3 * i - 3]);
            QVERIFY2(std::abs(bend) < 700, qPrintable(QString::number(bend)));
        }
    }
};

BUTTONHOLE_TEST(TstHueCurve)

#include "tst_hue_curve.moc"
