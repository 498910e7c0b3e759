#include "document/take.h"
#include "light/mends.h"

#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <cmath>

using namespace buttonhole;

namespace
{

/// A slanting ground with grain, and a dark spot where one is asked for.
std::shared_ptr<const PhotoLevels> grainy(bool hasSpot, int most = 4)
{
    return test::levelsOf(400, 300, [=](int x, int y) {
        const int grain =
            int((uint32_t(x) * 73856093u ^ uint32_t(y) * 19349663u) % uint32_t(2 * most + 1)) -
            most;
        const double r = std::hypot(x - 200.0, y - 150.0) / 12;
        const double keeps = hasSpot ? 1 - 0.18 / (1 + std::exp((r - 1) / 0.1)) : 1;
        const int v = int((90 + x * 0.2 + y * 0.1 + grain) * keeps);
        return std::array{v, v, v + 10};
    });
}

LightTile lightOf(const SourceRef &source, const Rect &area)
{
    LightTile out(area);
    if (!source->read(0, out, {}))
        qFatal("cannot read");
    return out;
}

} // namespace

/// Spots mended.
class TstMends : public QObject
{
    Q_OBJECT

    static SpotMend theSpot() { return {{200, 150, 13}, {60, 20}}; }

private Q_SLOTS:
    void groundAndGrainGoOn()
    {
        const auto clean = grainy(false);
        const auto spoilt = grainy(true);
        const Mends mends({theSpot()});
        const SourceRef mended = mends.over(std::make_shared<const PhotoSource>(*spoilt));
        const Rect inside{192, 142, 208, 158};
        const auto mean = [&](const LightTile &tile, bool squares) {
            double sum = 0;
            double own = 0;
            for (int y = inside.y0; y < inside.y1; ++y)
                for (int x = inside.x0; x < inside.x1; ++x) {
                    const double v = std::sqrt(double(*tile.at(1, x, y)));
                    sum += v;
                    own += v * v;
                }
            const double m = sum / double(inside.area());
            return squares ? std::sqrt(own / double(inside.area()) - m * m) : m;
        };
        const LightTile was = lightOf(std::make_shared<const PhotoSource>(*clean), inside);
        const LightTile spot = lightOf(std::make_shared<const PhotoSource>(*spoilt), inside);
        const LightTile now = lightOf(mended, inside);
        QVERIFY(std::abs(mean(spot, false) - mean(was, false)) > 0.03);
        QVERIFY2(std::abs(mean(now, false) - mean(was, false)) < 0.004,
                 qPrintable(QString::number(mean(now, false) - mean(was, false))));
        const double grain = mean(now, true) / mean(was, true);
        QVERIFY2(grain > 0.85 && grain < 1.15, qPrintable(QString::number(grain)));
        // Nothing else changes, and tiles see the same.
        const Rect beside{100, 60, 170, 240};
        const LightTile a = lightOf(mended, beside);
        const LightTile b = lightOf(std::make_shared<const PhotoSource>(*spoilt), beside);
        const Rect part{196, 146, 204, 152};
        const LightTile some = lightOf(mended, part);
        int wrong = 0;
        for (int y = beside.y0; y < beside.y1; ++y)
            for (int x = beside.x0; x < beside.x1; ++x)
                wrong += a.isSameAt(b, x, y) ? 0 : 1;
        for (int y = part.y0; y < part.y1; ++y)
            for (int x = part.x0; x < part.x1; ++x)
                wrong += some.isSameAt(now, x, y) ? 0 : 1;
        QCOMPARE(wrong, 0);
    }

    void cornersAndEdgesAreMendedToo()
    {
        const auto photo = grainy(true);
        for (const Spot &spot :
             {Spot{1, 1, 9}, Spot{399, 299, 30}, Spot{-40, 150, 20}, Spot{200, 150, 500}}) {
            const SpotMend mend{spot, findSpotSource(*photo, spot, {})};
            const SourceRef mended =
                Mends({mend}).over(std::make_shared<const PhotoSource>(*photo));
            for (const int level : {0, 1}) {
                LightTile out(mended->rectOf(level));
                QVERIFY(mended->read(level, out, {}));
                for (int y = 0; y < out.area().y1; ++y)
                    for (int x = 0; x < out.area().x1; ++x)
                        QVERIFY(std::isfinite(*out.at(0, x, y)));
            }
        }
    }

    void aSourceIsChosenWhereTheGroundIsAlike()
    {
        // Left of the middle dark, right of it light: a spot at the border stays on its side.
        const auto photo = test::levelsOf(400, 300, [](int x, int) {
            const int v = x < 200 ? 60 : 180;
            return std::array{v, v, v};
        });
        const SpotSource from = findSpotSource(*photo, {170, 150, 10}, {});
        QVERIFY(170 + from.dx < 190);
        const SpotSource other = findSpotSource(*photo, {230, 150, 10}, {});
        QVERIFY(230 + other.dx > 210);
        const Spot taken{170 + float(from.dx), 150 + float(from.dy), 10};
        const SpotSource next = findSpotSource(*photo, {170, 150, 10}, {taken});
        QVERIFY(std::hypot(next.dx - from.dx, next.dy - from.dy) > 10);
    }

    void foundSpotsAreAddedOnce()
    {
        const auto photo = grainy(true, 1);
        auto take = withFoundSpots(makeTake(), *photo);
        QVERIFY(take);
        QCOMPARE(mendsOf(*take).size(), size_t(1));
        QVERIFY(std::abs(mendsOf(*take)[0].spot.x - 200) < 3);
        const auto again = withFoundSpots(*take, *photo);
        QVERIFY(again);
        QCOMPARE(mendsOf(*again).size(), size_t(1));
    }

    /// Small or large, no rim is left of what was found.
    void nothingIsLeftOfASpot_data()
    {
        QTest::addColumn<double>("radius");
        for (const double radius : {4.0, 8.0, 14.0, 20.0, 28.0})
            QTest::newRow(qPrintable(QString::number(radius))) << radius;
    }

    void nothingIsLeftOfASpot()
    {
        QFETCH(const double, radius);
        const auto paint = [&](bool hasSpot) {
            return test::levelsOf(500, 400, [=](int x, int y) {
                const int grain = int((uint32_t(x) * 73856093u ^ uint32_t(y) * 19349663u) % 3) - 1;
                const double r = std::hypot(x - 250.0, y - 200.0) / radius;
                const double keeps = hasSpot ? 1 - 0.09 / (1 + std::exp((r - 1) / 0.12)) : 1;
                const int v = int((140 + x * 0.06 + grain) * keeps);
                return std::array{v, v + 5, v + 20};
            });
        };
        const auto spoilt = paint(true);
        const auto clean = paint(false);
        const auto take = withFoundSpots(makeTake(), *spoilt);
        QVERIFY(take);
        QCOMPARE(mendsOf(*take).size(), size_t(1));
        const SourceRef mended =
            Mends(mendsOf(*take)).over(std::make_shared<const PhotoSource>(*spoilt));
        const int reach = int(1.3 * radius);
        const Rect area{250 - reach, 200 - reach, 250 + reach, 200 + reach};
        const LightTile was = lightOf(std::make_shared<const PhotoSource>(*clean), area);
        const LightTile now = lightOf(mended, area);
        constexpr int kBlock = 4; // grain is its own everywhere
        double worst = 0;
        for (int y = area.y0; y + kBlock <= area.y1; y += kBlock)
            for (int x = area.x0; x + kBlock <= area.x1; x += kBlock) {
                double sum = 0;
                for (int j = 0; j < kBlock; ++j)
                    for (int i = 0; i < kBlock; ++i)
                        sum += std::sqrt(double(*now.at(1, x + i, y + j))) -
                               std::sqrt(double(*was.at(1, x + i, y + j)));
                worst = std::max(worst, std::abs(sum) / (kBlock * kBlock));
            }
        // The spot took some 0.03.
        QVERIFY2(worst < 0.008, qPrintable(QString::number(worst)));
    }

    void filesKeepThem()
    {
        SpotMend off = theSpot();
        off.on = false;
        const Mends mends({theSpot(), off});
        nlohmann::json out;
        adjustmentToJson(out, mends);
        std::vector<std::string> notes;
        const auto again = adjustmentFromJson(out, notes);
        QVERIFY(again);
        QVERIFY(dynamic_cast<const Mends &>(**again).spots() == mends.spots());
        for (const char *bad :
             {R"({"x":1,"y":2,"radius":0,"dx":1,"dy":1})", R"({"x":1,"y":2,"radius":5})", "3",
              R"({"x":1e30,"y":2,"radius":5,"dx":1,"dy":1})"}) {
            out["spots"] = nlohmann::json::array({nlohmann::json::parse(bad)});
            QVERIFY2(!adjustmentFromJson(out, notes), bad);
        }
        out["spots"] = "many";
        QVERIFY(!adjustmentFromJson(out, notes));
    }
};

BUTTONHOLE_TEST(TstMends)

#include "tst_mends.moc"
