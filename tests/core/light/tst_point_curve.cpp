#include "light/point_curve.h"

#include "colour/oklab.h"
#include "light/lightness_curve.h"
#include "registry.h"
#include "samples.h"

#include <cmath>
#include <random>

using namespace buttonhole;

class TstPointCurve : public QObject
{
    Q_OBJECT

    static PointCurve anyCurve(std::mt19937 &random)
    {
        std::uniform_real_distribution<float> number(-1, 1);
        return {number(random), number(random), number(random), number(random), number(random)};
    }

private Q_SLOTS:
    void itGoesThroughItsPoints()
    {
        const PointCurve plain;
        for (double L = 0; L <= 1.5; L += 0.01)
            QVERIFY(std::abs(plain.at(L) - L) < 1e-9);
        const PointCurve bent{0.3F, 0.5F, 0, -0.25F, -0.1F};
        const std::pair<double, double> points[] = {
            {0, 0}, {0.1, 0.16}, {0.3, 0.4}, {0.5, 0.5}, {0.7, 0.65}, {0.9, 0.88}, {1, 1}};
        for (const auto &[L, made] : points)
            QVERIFY2(std::abs(bent.at(L) - made) < 1e-6, qPrintable(QString::number(L)));
        QVERIFY(std::abs(bent.at(1.4) - 1.4) < 1e-9); // what is lighter than white stays so
    }

    void itNeverTurnsBackAndHasNoCorner()
    {
        std::mt19937 random(5);
        for (int round = 0; round < 200; ++round) {
            const PointCurve curve = anyCurve(random);
            double before = 0;
            for (int i = 0; i <= 2000; ++i) {
                const double made = curve.at(i / 2000.0);
                QVERIFY(made >= before - 1e-12 && made <= 1 + 1e-12);
                before = made;
            }
            constexpr double kNear = 1e-6;
            for (const double L : {0.1, 0.3, 0.5, 0.7, 0.9}) {
                const double left = (curve.at(L) - curve.at(L - kNear)) / kNear;
                const double right = (curve.at(L + kNear) - curve.at(L)) / kNear;
                QVERIFY(std::abs(left - right) < 1e-3);
            }
        }
    }

    void lightnessGoesByItAndColourFollows()
    {
        const auto levels = test::levelsOf(256, 2, [](int x, int y) {
            return y == 0 ? std::array{x, x, x} : std::array{x, x / 2, 128};
        });
        const PointCurve curve{0.2F, 0.6F, 0.4F, -0.3F, -0.5F};
        const auto before = std::make_shared<const PhotoSource>(*levels);
        const SourceRef after = NumberAdjustment<PointCurve>(curve).over(before);
        LightTile was(Rect{0, 0, 256, 2});
        LightTile made(Rect{0, 0, 256, 2});
        QVERIFY(before->read(0, was, {}) && after->read(0, made, {}));
        const auto labAt = [](const LightTile &tile, int x, int y) {
            return toOklab(Profile::srgb().toXyz() * Vector3{double(*tile.at(0, x, y)),
                                                             double(*tile.at(1, x, y)),
                                                             double(*tile.at(2, x, y))});
        };
        for (int x = 8; x < 256; ++x) {
            const Oklab grey = labAt(made, x, 0);
            QVERIFY(std::abs(grey.L - curve.at(labAt(was, x, 0).L)) < 2e-3);
            QVERIFY(std::abs(grey.a) < 1e-4 && std::abs(grey.b) < 1e-4);
            const Oklab from = labAt(was, x, 1);
            const Oklab to = labAt(made, x, 1);
            const double share = curve.at(from.L) / from.L;
            QVERIFY(std::abs(to.a - share * from.a) < 2e-3);
            QVERIFY(std::abs(to.b - share * from.b) < 2e-3);
        }
    }
};

BUTTONHOLE_TEST(TstPointCurve)

#include "tst_point_curve.moc"
