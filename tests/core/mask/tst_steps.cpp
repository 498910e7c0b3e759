#include "mask/step.h"

#include "mask/brush_step.h"
#include "mask/keep.h"
#include "mask/picture_step.h"
#include "mask/unknown_step.h"
#include "raster/parallel_tiles.h"
#include "registry.h"
#include "samples.h"

#include <atomic>
#include <nlohmann/json.hpp>
#include <thread>

using namespace buttonhole;
using nlohmann::json;
using Effect = StepShape::Effect;

namespace
{

/// A reader over nothing: every picture is missing.
struct EmptyReader final : MaskReader {
    EmptyReader()
    {
        width = 200;
        height = 150;
    }
    Result<MaskPlane> get(const json &) override
    {
        return Error{ErrorKind::NotFound, "masks/1.png", {}};
    }
};

/// Works out something from the photo as a whole; counts how often.
class WholePhotoStep final : public StepShape
{
public:
    std::string kind() const override { return "whole"; }
    void toJson(json &, MaskWriter *, const std::string &) const override {}
    Effect coverage(const PhotoLevels &levels, int, const Rect &area, uint16_t *lo,
                    uint16_t *) const override
    {
        const auto make = [&]() -> Memo::Value {
            ++made;
            const auto value = std::make_shared<std::atomic<int>>(0);
            parallelFor(64, [&](int i) {
                std::this_thread::sleep_for(std::chrono::microseconds(100));
                *value += i;
            });
            return value;
        };
        const auto value = ofPhoto<std::atomic<int>>(levels, make);
        std::fill_n(lo, area.area(), uint16_t(*value));
        return Effect::Raises;
    }
    mutable std::atomic<int> made = 0;
};

Tip hardTip(float size, float opacity = 1)
{
    return {size, 0, 1, opacity, PressureSteers::Nothing};
}

} // namespace

class TstSteps : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void foldsByHand_data()
    {
        QTest::addColumn<int>("sign");
        QTest::addColumn<int>("effect");
        QTest::addColumn<int>("mask");
        QTest::addColumn<int>("lo");
        QTest::addColumn<int>("hi");
        QTest::addColumn<int>("expected");
        const int add = int(Sign::Add);
        const int subtract = int(Sign::Subtract);
        const int inside = int(Sign::OnlyInside);
        const int raises = int(Effect::Raises);
        const int clamps = int(Effect::Clamps);
        const int none = int(Effect::None);
        QTest::newRow("add takes the greater") << add << raises << 100 << 300 << 0 << 300;
        QTest::newRow("add keeps the greater") << add << raises << 500 << 300 << 0 << 500;
        QTest::newRow("add, taken back") << add << clamps << 500 << 0 << 200 << 200;
        QTest::newRow("add nothing") << add << none << 500 << 9 << 9 << 500;
        QTest::newRow("subtract") << subtract << raises << 65535 << 65535 << 0 << 0;
        QTest::newRow("subtract half") << subtract << raises << 65535 << 32768 << 0 << 32767;
        QTest::newRow("subtract, given back") << subtract << clamps << 0 << 0 << 0 << 65535;
        QTest::newRow("only inside") << inside << raises << 500 << 300 << 0 << 300;
        QTest::newRow("only inside nothing") << inside << none << 500 << 9 << 9 << 0;
    }
    void foldsByHand()
    {
        QFETCH(int, sign);
        QFETCH(int, effect);
        QFETCH(int, mask);
        QFETCH(int, lo);
        QFETCH(int, hi);
        QFETCH(int, expected);
        auto m = uint16_t(mask);
        const auto l = uint16_t(lo);
        const auto h = uint16_t(hi);
        foldStep(Sign(sign), Effect(effect), &l, &h, &m, 1);
        QCOMPARE(int(m), expected);
    }

    void foldingTwiceChangesNothing()
    {
        for (const Sign sign : {Sign::Add, Sign::Subtract, Sign::OnlyInside})
            for (int i = 0; i < 2000; ++i) {
                const auto lo = uint16_t(i * 31);
                const auto hi = uint16_t(std::max<int>(lo, i * 7919 % 65536));
                auto once = uint16_t(i * 4099);
                foldStep(sign, Effect::Clamps, &lo, &hi, &once, 1);
                uint16_t twice = once;
                foldStep(sign, Effect::Clamps, &lo, &hi, &twice, 1);
                QCOMPARE(twice, once);
            }
    }

    void signWordsComeBack()
    {
        for (const Sign sign : {Sign::Add, Sign::Subtract, Sign::OnlyInside})
            QCOMPARE(*signFromWord(toWord(sign)), sign);
        QVERIFY(!signFromWord("multiply"));
    }

    void brushStepsComeBackThroughJson()
    {
        Stroke first = test::makeStroke({44, 0.3F, 0.7F, 0.9F, PressureSteers::Flow},
                                        {{10, 20, 0.5F}, {150, 100, 1}});
        Stroke second = test::makeStroke(hardTip(9), {{50, 50}, {60, 120}});
        second.takesBack = true;
        second.tip.pressure = PressureSteers::Softness;
        const Take take = test::makePaintedTake(200, 150, {first, second});
        const auto &shape = dynamic_cast<const BrushStep &>(*take.keeps[0].steps[0].shape);
        json out{{"kind", "brush"}};
        shape.toJson(out, nullptr, "x");
        EmptyReader reader;
        const auto back = stepFromJson(out, reader);
        QVERIFY(back);
        const auto &again = dynamic_cast<const BrushStep &>(**back);
        QCOMPARE(again.strokes().size(), size_t(2));
        QCOMPARE(*again.strokes()[0], first);
        QCOMPARE(*again.strokes()[1], second);
        QVERIFY(samePixels(again.planes().lo, shape.planes().lo));
        QVERIFY(samePixels(again.planes().hi, shape.planes().hi));
        QVERIFY(reader.notes.empty());
    }

    void missingPlanesArePaintedAgain()
    {
        const json in = json::parse(R"({"kind": "brush", "lo": {"outside": 0, "file": "gone"},
            "hi": {"outside": 65535}, "strokes": [{"sizePx": 30, "points": [[100, 75]]}]})");
        EmptyReader reader;
        const auto step = stepFromJson(in, reader);
        QVERIFY(step);
        QVERIFY(dynamic_cast<const BrushStep &>(**step).planes().lo.at(100, 75) > 50000);
        QCOMPARE(reader.notes.size(), size_t(1));
    }

    void badBrushJsonIsRefused_data()
    {
        QTest::addColumn<QString>("stroke");
        QTest::newRow("no points") << R"({"sizePx": 30, "points": []})";
        QTest::newRow("one number") << R"({"sizePx": 30, "points": [[1]]})";
        QTest::newRow("size 0") << R"({"sizePx": 0, "points": [[1, 1]]})";
        QTest::newRow("size 3001") << R"({"sizePx": 3001, "points": [[1, 1]]})";
        QTest::newRow("size in words") << R"({"sizePx": "large", "points": [[1, 1]]})";
        QTest::newRow("softness 2") << R"({"softness": 2, "points": [[1, 1]]})";
        QTest::newRow("opacity -1") << R"({"opacity": -1, "points": [[1, 1]]})";
        QTest::newRow("far away") << R"({"points": [[1e9, 1]]})";
        QTest::newRow("pressure 3") << R"({"points": [[1, 1, 3]]})";
    }
    void badBrushJsonIsRefused()
    {
        QFETCH(QString, stroke);
        const json in{{"kind", "brush"},
                      {"strokes", json::array({json::parse(stroke.toStdString())})}};
        EmptyReader reader;
        const auto step = stepFromJson(in, reader);
        QVERIFY(!step);
        QCOMPARE(step.error().kind, ErrorKind::InvalidArgument);
    }

    void unknownKindsAreKeptAsTheyAre()
    {
        const json in = json::parse(R"({"kind": "loupe", "id": 7, "depth": [1, {"x": 2}]})");
        EmptyReader reader;
        const auto step = stepFromJson(in, reader);
        QVERIFY(step);
        QVERIFY(!(*step)->isUnderstood());
        QCOMPARE((*step)->kind(), std::string("loupe"));
        QCOMPARE(reader.notes.size(), size_t(1));
        json out{{"kind", (*step)->kind()}, {"id", 7}};
        (*step)->toJson(out, nullptr, "x");
        QCOMPARE(out.dump(), in.dump());
    }

    void aPictureStepWithoutItsPictureIsKept()
    {
        const json in = json::parse(R"({"kind": "picture", "mask": {"file": "gone", "x": 0}})");
        EmptyReader reader;
        const auto step = stepFromJson(in, reader);
        QVERIFY(step);
        QVERIFY(!(*step)->isUnderstood());
        json out{{"kind", "picture"}};
        (*step)->toJson(out, nullptr, "x");
        // But for the name: another step's picture must not be taken for it some day.
        QCOMPARE(out.at("mask").dump(), std::string(R"({"file":"missing.png","x":0})"));
    }

    void keepsFoldInOrder()
    {
        const Stroke spool = test::makeStroke(hardTip(60), {{100, 75}});
        Take take = test::makePaintedTake(200, 150, {spool});
        const uint64_t keepId = take.keeps[0].id;
        const auto brush = [](const Stroke &stroke) {
            return test::makePaintedTake(200, 150, {stroke}).keeps[0].steps[0].shape;
        };
        take = withNewStep(take, keepId, Sign::Subtract,
                           brush(test::makeStroke(hardTip(20), {{100, 75}})));
        take =
            withNewStep(take, keepId, Sign::Add, brush(test::makeStroke(hardTip(6), {{100, 75}})));
        const auto at = [&](int x) { return test::maskOf(take.keeps[0], {x, 75, x + 1, 76})[0]; };
        QCOMPARE(at(100), uint16_t(65535)); // added again
        QCOMPARE(at(107), uint16_t(0));     // subtracted
        QCOMPARE(at(120), uint16_t(65535)); // the first step's
        QCOMPARE(at(140), uint16_t(0));
        take.keeps[0].steps[1].on = false;
        QCOMPARE(at(107), uint16_t(65535));
        take.keeps[0].invert = true;
        QCOMPARE(at(140), uint16_t(65535));
        take.keeps[0].strength = 0.5F;
        QCOMPARE(at(140), uint16_t(32768));
    }

    /// However many steps: each works out its part once, even asked for by many tiles at a time,
    /// and a thread that waits never takes up a tile that asks for what it is making itself.
    /// Everything but this, of one step: with each sign, and as what another acts inside of.
    void aStepCoversEverythingButItsShape()
    {
        Take take = test::makePaintedTake(200, 150, {test::makeStroke(hardTip(60), {{100, 75}})});
        const auto at = [&](int x) { return test::maskOf(take.keeps[0], {x, 75, x + 1, 76})[0]; };
        Step &spool = take.keeps[0].steps[0];
        const uint64_t plain = foldedContent(take.keeps[0]);
        spool.invert = true;
        QVERIFY(foldedContent(take.keeps[0]) != plain);
        QCOMPARE(at(100), uint16_t(0));
        QCOMPARE(at(140), uint16_t(65535));
        // Far from the strokes too, where nothing was painted at all.
        QCOMPARE(test::maskOf(take.keeps[0], {0, 0, 1, 1})[0], uint16_t(65535));
        // Of all that is kept, taking away all but the spool leaves the spool.
        Step all = spool;
        all.id = 77;
        all.sign = Sign::Subtract;
        take.keeps[0].steps[0].invert = false;
        take.keeps[0].steps.push_back(take.keeps[0].steps[0]);
        take.keeps[0].steps[1].invert = true;
        take.keeps[0].steps.push_back(all);
        QCOMPARE(at(100), uint16_t(65535));
        QCOMPARE(at(140), uint16_t(0));
        take.keeps[0].steps[2].sign = Sign::OnlyInside;
        QCOMPARE(at(100), uint16_t(0));
        QCOMPARE(at(140), uint16_t(65535));
        // Inside what an inverted step covers.
        Keep &keep = take.keeps[0];
        keep.steps = {keep.steps[1], keep.steps[1]};
        keep.steps[0].on = false;
        keep.steps[1].id = 78;
        keep.steps[1].invert = false;
        keep.steps[1].insideOf = keep.steps[0].id;
        QCOMPARE(at(100), uint16_t(0));
        keep.steps[0].invert = false;
        QCOMPARE(at(100), uint16_t(65535));
    }

    void wholePhotosAreLookedAtOnce()
    {
        Keep keep;
        std::vector<std::shared_ptr<const WholePhotoStep>> shapes;
        for (int i = 0; i < 24; ++i) {
            shapes.push_back(std::make_shared<const WholePhotoStep>());
            keep.steps.push_back({uint64_t(i) + 1, Sign::Add, true, shapes.back()});
        }
        const Rect area{0, 0, 8 * kTileSize, 4 * kTileSize};
        const auto levels = test::levelsOf(area.x1, area.y1, [](int, int) {
            return std::array{90, 90, 90};
        });
        std::atomic<int> right = 0;
        parallelTiles(area, [&](const Rect &tile) {
            std::vector<uint16_t> mask(tile.area());
            keepMask(*levels, keep, 0, tile, mask.data());
            right += mask[0] == 64 * 63 / 2 ? 1 : 0;
        });
        QCOMPARE(right.load(), 32);
        for (const auto &shape : shapes)
            QCOMPARE(shape->made.load(), 1);
    }

    void reducedMasksFollowTheFullOnes()
    {
        const Take take = test::makePaintedTake(
            800, 600, {test::makeStroke({300, 0.8F, 1, 1, PressureSteers::Nothing}, {{400, 300}})});
        const auto full = test::maskOf(take.keeps[0], {0, 0, 800, 600});
        const auto small = test::maskOf(take.keeps[0], {0, 0, 200, 150}, 2);
        for (int y = 0; y < 150; ++y)
            for (int x = 0; x < 200; ++x) {
                double sum = 0;
                for (int i = 0; i < 16; ++i)
                    sum += full[size_t(y * 4 + i / 4) * 800 + size_t(x * 4 + i % 4)];
                QVERIFY(std::abs(sum / 16 - small[size_t(y) * 200 + size_t(x)]) <= 0.51);
            }
    }
};

BUTTONHOLE_TEST(TstSteps)

#include "tst_steps.moc"
