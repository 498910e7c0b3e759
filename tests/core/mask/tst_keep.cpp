#include "mask/keep.h"

#include "mask/brush_step.h"
#include "mask/fade_step.h"
#include "mask/mask_filter.h"
#include "mask/outline_step.h"
#include "registry.h"
#include "render/mask_stage.h"
#include "samples.h"

#include <algorithm>
#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kSide = 400;

MaskPart discPart(float radius, uint16_t value = 65535)
{
    MaskPart part({0, 0, kSide, kSide});
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x)
            if (std::hypot(float(x) + 0.5F - kSide / 2.0F, float(y) + 0.5F - kSide / 2.0F) < radius)
                part.values[size_t(y) * kSide + size_t(x)] = value;
    return part;
}

/// Radius of a disc of the same area.
double radiusOf(const MaskPart &part)
{
    double sum = 0;
    for (const uint16_t v : part.values)
        sum += v / 65535.0;
    return std::sqrt(sum / 3.14159265358979);
}

Take spotTake(int width, int height)
{
    return test::makePaintedTake(width, height,
                                 {test::makeStroke({120, 0, 1, 1, PressureSteers::Nothing},
                                                   {{float(width) / 2, float(height) / 2}})});
}

} // namespace

class TstKeep : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void growingMovesTheEdge_data()
    {
        QTest::addColumn<double>("by");
        for (const double by : {1.0, 2.5, 8.0, 9.0, 40.0, 90.0, -1.0, -7.5, -20.0, -45.0})
            QTest::newRow(qPrintable(QString::number(by))) << by;
    }
    void growingMovesTheEdge()
    {
        QFETCH(double, by);
        MaskPart part = discPart(60);
        grow(part, float(by));
        // An octagon reaches up to 8 % further at its corners; whole pixels round.
        QVERIFY(std::abs(radiusOf(part) - (60 + by)) < 0.6 + 0.085 * std::abs(by));
        if (by < 0) // inside a disc it is the corners that reach the rim
            return;
        // Straight on it is exact.
        const auto at = [&](double x) {
            return part.values[size_t(kSide / 2) * kSide + size_t(kSide / 2 + x)];
        };
        QCOMPARE(int(at(60 + std::floor(by) - 1)), 65535);
        QCOMPARE(int(at(60 + std::ceil(by) + 1)), 0);
    }

    void growingKeepsFaintMasksFaint()
    {
        MaskPart part = discPart(30, 9000);
        grow(part, 25);
        QCOMPARE(int(*std::max_element(part.values.begin(), part.values.end())), 9000);
        QVERIFY(std::abs(radiusOf(part) - 55 * std::sqrt(9000 / 65535.0)) < 2);
        MaskPart full({0, 0, 50, 50});
        std::fill(full.values.begin(), full.values.end(), uint16_t(65535));
        grow(full, -10); // the picture's border is no edge
        QCOMPARE(int(*std::min_element(full.values.begin(), full.values.end())), 65535);
    }

    void featheringIsGaussian_data()
    {
        QTest::addColumn<double>("sigma");
        for (const double sigma : {0.5, 2.0, 6.0, 11.0, 40.0})
            QTest::newRow(qPrintable(QString::number(sigma))) << sigma;
    }
    /// Below one pixel the sampled Gaussian is not quite the continuous one.
    /// A straight edge becomes the normal distribution function, on every way through the levels.
    void featheringIsGaussian()
    {
        QFETCH(double, sigma);
        const auto photo = test::makePhoto(1200, 800);
        const auto levels = *PhotoLevels::make(photo);
        Keep keep;
        keep.featherPx = float(sigma);
        const Rect row{200, 400, 1000, 401};
        std::vector<uint16_t> out(row.area());
        shapedMask(*levels, keep, 0, row, out.data(),
                   [](int level, const Rect &area, uint16_t *to) {
                       for (int y = area.y0; y < area.y1; ++y)
                           for (int x = area.x0; x < area.x1; ++x)
                               *to++ = (x << level) < 608 ? 65535 : 0; // on every level's grid
                   });
        for (int x = row.x0; x < row.x1; ++x) {
            const double expected =
                0.5 * std::erfc((x + 0.5 - 608) / (sigma * std::sqrt(2.0))) * 65535;
            QVERIFY2(std::abs(out[size_t(x - row.x0)] - expected) < (sigma < 1 ? 5000 : 900),
                     qPrintable(QStringLiteral("x %1").arg(x)));
        }
    }

    /// Small parts go, small holes close; what is longer than asked for, and gaps at the photo's
    /// border, stay.
    void specksAndHoles()
    {
        const auto levels = *PhotoLevels::make(test::makePhoto(300, 200));
        Keep keep;
        keep.specksPx = 6;
        keep.holesPx = 4;
        const auto fill = [](int, const Rect &area, uint16_t *to) {
            const Rect parts[] = {{100, 50, 200, 150}, {10, 10, 16, 12}, {30, 10, 37, 11}};
            const Rect holes[] = {{120, 60, 124, 64}, {140, 60, 145, 62}};
            for (int y = area.y0; y < area.y1; ++y)
                for (int x = area.x0; x < area.x1; ++x) {
                    const auto holds = [&](const Rect &r) {
                        return x >= r.x0 && x < r.x1 && y >= r.y0 && y < r.y1;
                    };
                    const bool in = std::any_of(std::begin(parts), std::end(parts), holds);
                    const bool out = std::any_of(std::begin(holes), std::end(holes), holds);
                    *to++ = out ? 40000 : in ? 65535 : 0;
                }
        };
        const auto at = [&](int x, int y) {
            uint16_t one = 0;
            shapedMask(*levels, keep, 0, {x, y, x + 1, y + 1}, &one, fill);
            return int(one);
        };
        QCOMPARE(at(12, 11), 0);      // 6 px long
        QCOMPARE(at(32, 10), 65535);  // 7 px long
        QCOMPARE(at(122, 62), 65535); // a hole 4 px long
        QCOMPARE(at(142, 61), 40000); // 5 px long
        QCOMPARE(at(150, 100), 65535);
        keep.specksPx = keep.holesPx = 0;
        QCOMPARE(at(12, 11), 65535);
        QCOMPARE(at(122, 62), 40000);
    }

    /// A step limited to another changes the mask only where that one covers; soft limits act in
    /// proportion.
    void aStepActsInsideAnother()
    {
        const auto levels = *PhotoLevels::make(test::makePhoto(300, 200));
        Take take = spotTake(300, 200);
        const uint64_t keepId = take.keeps[0].id;
        const uint64_t spot = take.keeps[0].steps[0].id;
        Fade left; // the left half, softly
        left.from = {145, 100};
        left.to = {155, 100};
        uint64_t second = 0;
        take = withNewStep(std::move(take), keepId, Sign::Subtract,
                           std::make_shared<FadeStep>(left), &second);
        const auto value = [&](int x, int y) {
            uint16_t one = 0;
            keepMask(*levels, take.keeps[0], 0, {x, y, x + 1, y + 1}, &one);
            return int(one);
        };
        QCOMPARE(value(140, 100), 0);
        QVERIFY(value(160, 100) > 60000);
        // Off, the spot still limits what is added later.
        const auto change = [&](uint64_t step, const std::function<void(Step &)> &f) {
            take = withStep(std::move(take), keepId, step, f);
        };
        change(spot, [](Step &s) { s.on = false; });
        change(second, [&](Step &s) {
            s.sign = Sign::Add;
            s.insideOf = spot;
        });
        QVERIFY(value(140, 100) > 60000);
        QCOMPARE(value(10, 10), 0);
        QCOMPARE(value(160, 100), 0);
        const uint64_t limited = foldedContent(take.keeps[0]);
        change(second, [](Step &s) { s.insideOf = Step::kAnywhere; });
        QCOMPARE(value(10, 10), 65535);
        QVERIFY(foldedContent(take.keeps[0]) != limited);
        change(second, [](Step &s) { s.insideOf = Step::kWhatIsThere; });
        QCOMPARE(value(140, 100), 0); // nothing is there
        change(spot, [](Step &s) { s.on = true; });
        QCOMPARE(value(140, 100), 65535);
        // A copy's steps point at each other, and one whose limit is gone acts anywhere.
        change(second, [&](Step &s) { s.insideOf = spot; });
        take = withCopyOfKeep(std::move(take), keepId);
        QCOMPARE(take.keeps[1].steps[1].insideOf, take.keeps[1].steps[0].id);
        take = withoutStep(std::move(take), keepId, spot);
        QCOMPARE(value(10, 10), 65535);
        // Cleared: nothing is in it, also where it was everything but its steps; the rest stays.
        take.keeps[0].invert = true;
        take.keeps[0].growPx = 3;
        const Take cleared = withoutSteps(take, keepId);
        QVERIFY(cleared.keeps[0].steps.empty() && !cleared.keeps[0].invert);
        QCOMPARE(cleared.keeps[0].growPx, 3.0F);
        QCOMPARE(cleared.keeps[1].steps.size(), take.keeps[1].steps.size());
    }

    /// Tiles joined are the whole, and the cache changes nothing.
    void partsAreTheWhole()
    {
        const auto levels = *PhotoLevels::make(test::makePhoto(700, 600));
        Take take = spotTake(700, 600);
        take.keeps[0].specksPx = 20;
        take.keeps[0].holesPx = 30;
        take.keeps[0].growPx = 13;
        take.keeps[0].featherPx = 9;
        for (const int level : {0, 1}) {
            const Rect all = levels->rectOf(level);
            std::vector<uint16_t> whole(all.area());
            keepMask(*levels, take.keeps[0], level, all, whole.data());
            StageCache cache;
            for (const bool cached : {false, true, true})
                parallelTiles(all, [&](const Rect &tile) {
                    std::vector<uint16_t> part(tile.area());
                    combinedMask(*levels, take, level, tile, part.data(), nullptr,
                                 cached ? &cache : nullptr);
                    for (int y = tile.y0; y < tile.y1; ++y)
                        for (int x = tile.x0; x < tile.x1; ++x)
                            if (part[size_t(y - tile.y0) * size_t(tile.width()) +
                                     size_t(x - tile.x0)] !=
                                whole[size_t(y) * size_t(all.x1) + size_t(x)])
                                qFatal("differs at %d, %d", x, y);
                });
            QVERIFY(cache.bytes() > 0);
        }
    }

    /// A soft edge follows the photo: a blurred border gets the coverage of its blur, a crisp one
    /// stays crisp, and what looks alike on both sides stays as it was masked.
    void edgesGetTheCoverageOfThePhoto()
    {
        // Red to the left of 300, grey to the right: blurred over 14 px in the upper half, crisp in
        // the lower one; at the bottom all is red.
        const auto share = [](int x, int y) {
            if (y > 300)
                return x < 300 ? 1.0 : 0.0;
            return std::clamp((307.5 - x - 0.5) / 14, 0.0, 1.0);
        };
        const auto levels = test::levelsOf(600, 600, [&](int x, int y) {
            const int grain = (x * 7 + y * 13) % 5 - 2;
            if (y > 500)
                return std::array{180 + grain, 60 + grain, 50 + grain};
            const double a = share(x, y);
            const auto mixed = [&](int in, int out) { // in linear light, as lenses do
                const double v =
                    a * std::pow(in / 255.0, 2.2) + (1 - a) * std::pow(out / 255.0, 2.2);
                return int(std::lround(std::pow(v, 1 / 2.2) * 255)) + grain;
            };
            return std::array{mixed(180, 120), mixed(60, 125), mixed(50, 130)};
        });
        Keep keep;
        Outline square{
            {{0, 0}, {}, {}}, {{304, 0}, {}, {}}, {{304, 600}, {}, {}}, {{0, 600}, {}, {}}};
        keep.steps = {
            {1, Sign::Add, true, std::make_shared<OutlineStep>(std::vector<Outline>{square})}};
        const auto row = [&](int y) {
            std::vector<uint16_t> out(600);
            keepMask(*levels, keep, 0, {0, y, 600, y + 1}, out.data());
            return out;
        };
        const auto error = [&](const std::vector<uint16_t> &mask, int y) {
            double sum = 0;
            for (int x = 290; x < 316; ++x)
                sum += std::abs(mask[size_t(x)] / 65535.0 - share(x, y)) / 26;
            return sum;
        };
        const double hard = error(row(150), 150);
        keep.softEdgePx = 10;
        QVERIFY2(error(row(150), 150) < 0.6 * hard,
                 qPrintable(QString::number(error(row(150), 150))));
        QVERIFY2(error(row(400), 400) < 0.05, qPrintable(QString::number(error(row(400), 400))));
        // Where fuzz is marked the edge is sought three times as far: 20 px off is found, too.
        Keep marked;
        Outline off = square;
        off[1].at.x = off[2].at.x = 320;
        Fade everywhere;
        everywhere.from = {0, 0};
        everywhere.to = {5000, 0};
        everywhere.feather = 0;
        marked.steps = {
            {1, Sign::Add, true, std::make_shared<OutlineStep>(std::vector<Outline>{off})},
            {2, Sign::Fuzz, false, std::make_shared<FadeStep>(everywhere)}};
        marked.softEdgePx = 7;
        std::swap(keep, marked);
        QVERIFY(row(400)[305] > 65000); // beyond the band's soft end
        keep.steps[1].on = true;
        QVERIFY(keep.hasFuzz());
        QVERIFY2(row(400)[305] < 30000, qPrintable(QString::number(row(400)[305])));
        QVERIFY2(row(400)[312] < 12000, qPrintable(QString::number(row(400)[312])));
        QVERIFY(row(400)[200] == 65535); // fuzz itself adds nothing, and takes nothing
        QVERIFY(row(400)[500] == 0);
        std::swap(keep, marked);
        // By sharpness: far where it is blurred, a pixel or two where it is crisp.
        Keep byPhoto = keep;
        byPhoto.softEdgePx = 0;
        byPhoto.softEdgeFound = true;
        std::swap(keep, byPhoto);
        const auto fractional = [&](int y) {
            const auto values = row(y);
            return std::count_if(values.begin(), values.end(),
                                 [](uint16_t v) { return v > 3000 && v < 62000; });
        };
        QVERIFY2(fractional(150) >= 8, qPrintable(QString::number(fractional(150))));
        QVERIFY2(fractional(400) <= 2, qPrintable(QString::number(fractional(400))));
        QVERIFY(row(150)[280] > 65000 && row(150)[330] < 500);
        std::swap(keep, byPhoto);
        const auto alike = row(560);
        QVERIFY(alike[295] > 60000 && alike[313] < 6000);
        // Parts are the whole, but for how sums of fractions round.
        Take take = makeTake();
        take.keeps[0].steps = keep.steps;
        take.keeps[0].softEdgePx = 10;
        const Rect all{0, 0, 600, 600};
        std::vector<uint16_t> whole(all.area());
        keepMask(*levels, take.keeps[0], 0, all, whole.data());
        StageCache cache;
        parallelTiles(all, [&](const Rect &tile) {
            std::vector<uint16_t> part(tile.area());
            combinedMask(*levels, take, 0, tile, part.data(), nullptr, &cache);
            for (int y = tile.y0; y < tile.y1; ++y)
                for (int x = tile.x0; x < tile.x1; ++x)
                    if (std::abs(
                            part[size_t(y - tile.y0) * size_t(tile.width()) + size_t(x - tile.x0)] -
                            whole[size_t(y) * 600 + size_t(x)]) > 1)
                        qFatal("differs at %d, %d", x, y);
        });
    }

    void theLaterOwnsWhereItIsStronger()
    {
        const auto levels = *PhotoLevels::make(test::makePhoto(300, 200));
        Take take = spotTake(300, 200);
        uint64_t second = 0;
        take = withCopyOfKeep(std::move(take), take.keeps[0].id, &second);
        const Rect all{0, 0, 300, 200};
        std::vector<uint16_t> mask(all.area());
        std::vector<uint16_t> owner(all.area());
        const size_t middle = 100 * 300 + 150;
        combinedMask(*levels, take, 0, all, mask.data(), owner.data());
        QCOMPARE(int(owner[middle]), 2);
        QCOMPARE(int(owner[0]), 0);
        take = withKeep(std::move(take), second, [](Keep &k) { k.strength = 0.5F; });
        combinedMask(*levels, take, 0, all, mask.data(), owner.data());
        QCOMPARE(int(owner[middle]), 1);
    }

    void softEdgesAreTheKeepsThatAreOn()
    {
        Take take = spotTake(300, 200);
        QVERIFY(!hasSoftEdges(take));
        take.keeps[0].softEdgePx = 3;
        QVERIFY(hasSoftEdges(take));
        take.keeps[0].on = false;
        QVERIFY(!hasSoftEdges(take));
        take.keeps[0].on = true;
        take.keeps[0].softEdgePx = 0;
        take.keeps[0].softEdgeFound = true;
        QVERIFY(hasSoftEdges(take));
        take.keeps[0].softEdgeFound = false;
        const Step spot = take.keeps[0].steps[0];
        take.keeps[0].steps.push_back({spot.id + 1, Sign::Fuzz, true, spot.shape});
        QVERIFY(hasSoftEdges(take)); // fuzz has one where none was set
    }

    void keepsAreEdited()
    {
        Take take = spotTake(300, 200);
        const uint64_t first = take.keeps[0].id;
        uint64_t second = 0;
        take = withNewKeep(std::move(take), {}, &second);
        QCOMPARE(take.findKeep(second)->name, std::string("Keep 1"));
        uint64_t copy = 0;
        take = withCopyOfKeep(std::move(take), first, &copy);
        QCOMPARE(take.keeps[1].id, copy);
        QCOMPARE(take.keeps[1].name, std::string("Spool 2"));
        QVERIFY(take.keeps[1].steps[0].id != take.keeps[0].steps[0].id);
        QCOMPARE(take.keeps[1].steps[0].shape, take.keeps[0].steps[0].shape);
        take = withKeepAt(std::move(take), first, 9);
        QCOMPARE(take.keeps.back().id, first);
        const uint64_t step = take.findKeep(first)->steps[0].id;
        take = withStepAt(std::move(take), first, step, second, 0);
        QVERIFY(take.findKeep(first)->steps.empty());
        QCOMPARE(take.findKeep(second)->steps[0].id, step);
        take = withCopyOfStep(std::move(take), second, step, first);
        QCOMPARE(take.findKeep(first)->steps.size(), size_t(1));
        take = withoutKeep(std::move(take), copy);
        QVERIFY(!take.findKeep(copy));
        const size_t before = take.keeps.size();
        take = withStepAt(withKeepAt(withoutKeep(std::move(take), 999), 999, 0), 999, 1, second, 0);
        QCOMPARE(take.keeps.size(), before);
    }

    void numbersOutOfRangeAreRefused()
    {
        Keep keep;
        QVERIFY(check(keep));
        keep.featherPx = NAN;
        QCOMPARE(check(keep).error().subject, std::string("featherPx"));
        keep.featherPx = 0;
        keep.growPx = -301;
        QCOMPARE(check(keep).error().subject, std::string("growPx"));
        keep.growPx = 0;
        keep.look.tint = 1.5F;
        QCOMPARE(check(keep).error().subject, std::string("look.tint"));
    }
};

BUTTONHOLE_TEST(TstKeep)

#include "tst_keep.moc"
