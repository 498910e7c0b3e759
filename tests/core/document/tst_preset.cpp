#include "document/finish_starts.h"
#include "document/look_starts.h"
#include "document/preset_store.h"
#include "document/same_again.h"
#include "document/set_param.h"
#include "document/take_json.h"
#include "light/lens.h"
#include "mask/brush_step.h"
#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/outline_step.h"
#include "mask/region_step.h"
#include "registry.h"
#include "samples.h"
#include "tone/looks.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

using namespace buttonhole;

namespace
{

constexpr int kWidth = 400;
constexpr int kHeight = 300;

std::shared_ptr<const StepShape> fadeAt(float x0, float y0, float x1, float y1)
{
    return std::make_shared<FadeStep>(Fade{false, {x0, y0}, {x1, y1}});
}

/// A take in which every group is set, by `n` to values of its own.
Take fullTake(int n)
{
    const auto set = [](Take take, const std::string &assignment) {
        auto made = withParam(std::move(take), assignment);
        Q_ASSERT(made);
        return *made;
    };
    const std::string tenths = std::to_string(0.1 * n);
    Take take = makeTake();
    take.grey = looks().at(size_t(n)).mix;
    take.grey.toning.shadowSaturation = 10 * float(n);
    take.geometry.crop = {0, 0, 100 + 40 * n, 200};
    LensProfile profile;
    take = withPrepared(std::move(take), std::make_shared<const Lens>(
                                             profile, LensAmounts{.barrel = 0.01F * float(n)}));
    take = set(std::move(take), "prepare.light.exposureEv=" + tenths);
    take =
        withNewStep(std::move(take), take.keeps[0].id, Sign::Add, fadeAt(0, 0, float(n) * 10, 9));
    take = set(std::move(take), "keep:Keep 1.look.saturation=" + tenths);
    LocalTone tone;
    tone.name = "Wall " + std::to_string(n);
    tone.effects = {adjustmentKinds().find("light")->initial};
    take = withNewTone(std::move(take), tone);
    for (const FinishStart &start : finishStarts())
        take = *withFinishStart(std::move(take), start.id);
    take = withSignature(std::move(take), {"Mill " + std::to_string(n), {}, {}});
    take = set(std::move(take), "finish.vignette.amount=-" + tenths);
    take = set(std::move(take), "finish.grain.amount=" + tenths);
    take = set(std::move(take), "finish.toneColours.strength=" + tenths);
    return set(std::move(take), "finish.frame.width=" + tenths);
}

/// What a group of a take is, as text without ids.
std::string groupText(const Take &take, std::string_view group)
{
    auto out = nlohmann::json::parse(
        presetToText(presetOf(take, {std::string(group)}, "x", kWidth, kHeight)));
    std::function<void(nlohmann::json &)> withoutIds = [&](nlohmann::json &in) {
        if (in.is_object()) {
            in.erase("id");
            in.erase("nextId");
        }
        for (auto &each : in)
            if (each.is_structured())
                withoutIds(each);
    };
    withoutIds(out);
    return out.dump();
}

PresetUse plainUse()
{
    return {kWidth, kHeight, false, {}};
}

} // namespace

/// Groups of takes: taken alone, stored, put elsewhere.
class TstPreset : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void groupsAreTakenAlone_data()
    {
        QTest::addColumn<QString>("group");
        for (const TakeGroup &each : takeGroups())
            QTest::newRow(std::string(each.id).c_str())
                << QString::fromStdString(std::string(each.id));
    }
    void groupsAreTakenAlone()
    {
        QFETCH(QString, group);
        const std::string id = group.toStdString();
        const Take from = fullTake(2);
        const Take to = fullTake(3);
        std::vector<std::string> notes;
        const auto preset = presetFromText(
            presetToText(presetOf(from, {id}, "One", kWidth, kHeight)), "one.json", notes);
        QVERIFY(preset);
        QVERIFY(notes.empty());
        std::vector<CarriedStep> report;
        const Take made = withPreset(to, *preset, plainUse(), report);
        const Take plain = withPreset(to, plainPreset({id}, "Plain"), plainUse(), report);
        for (const TakeGroup &each : takeGroups()) {
            QVERIFY(each.isSet(from));
            const bool isIt = each.id == id;
            const std::string before = groupText(to, each.id);
            if (!isIt) {
                QCOMPARE(groupText(made, each.id), before);
                QCOMPARE(groupText(plain, each.id), before);
                continue;
            }
            if (id != "crop") { // only its ratio is taken
                QVERIFY(groupText(from, each.id) != before);
                QCOMPARE(groupText(made, each.id), groupText(from, each.id));
            }
            if (id != "grey" && id != "keeps" && id != "look")
                QVERIFY(!each.isSet(plain));
        }
    }

    void cropsByItsRatioRoundTheMiddle()
    {
        Take take = makeTake();
        take.geometry.crop = {300, 0, 400, 100};
        const Take wide = withCropRatio(take, 2, kWidth, kHeight);
        QCOMPARE(wide.geometry.crop, (Rect{0, 0, 400, 200}));
        const Take high = withCropRatio(take, 0.5, kWidth, kHeight);
        QCOMPARE(high.geometry.crop, (Rect{250, 0, 400, 300}));
        QVERIFY(withCropRatio(take, 0, kWidth, kHeight).geometry.crop.isEmpty());
        take.geometry.quarterTurns = 1; // 300 x 400 leaves
        const PictureRect turned =
            pictureOf(withCropRatio(take, 1.5, kWidth, kHeight), kWidth, kHeight).rect();
        QCOMPARE(turned.width() * 2, turned.height() * 3);
    }

    void masksGoByPixelsAndFrame()
    {
        const auto stroke = std::make_shared<Stroke>();
        stroke->points = {{100, 100}, {200, 100}};
        const auto colours = std::make_shared<ColourWindowStep>(ColourWindow{});
        const auto brush =
            std::make_shared<BrushStep>(BrushStep::Strokes{stroke}, BrushPlanes(kWidth, kHeight));
        const auto outline = std::make_shared<OutlineStep>(
            std::vector<Outline>{{{{10, 10}, {}, {}}, {{90, 10}, {}, {}}, {{50, 90}, {}, {}}}});
        Take take = makeTake();
        const uint64_t keep = take.keeps[0].id;
        take.keeps[0].featherPx = 3;
        for (const std::shared_ptr<const StepShape> &shape :
             {std::shared_ptr<const StepShape>(colours), fadeAt(0, 0, 400, 300),
              std::shared_ptr<const StepShape>(brush), std::shared_ptr<const StepShape>(outline)})
            take = withNewStep(std::move(take), keep, Sign::Add, shape);
        take.keeps[0].steps[0].insideOf = take.keeps[0].steps[2].id;

        const Preset preset = presetOf(take, {"keeps"}, "Keeps", kWidth, kHeight);
        PresetUse use{2 * kWidth, 2 * kHeight, false, {}};
        std::vector<CarriedStep> report;
        const Take other = withPreset(makeTake(), preset, use, report);
        QCOMPARE(other.keeps.size(), size_t(1));
        const Keep &made = other.keeps[0];
        QCOMPARE(made.steps.size(), size_t(2));
        QCOMPARE(made.steps[0].insideOf, Step::kAnywhere); // the stroke is not there
        QCOMPARE(made.featherPx, 6.0F);
        const auto *fade = dynamic_cast<const FadeStep *>(made.steps[1].shape.get());
        QVERIFY(fade);
        QCOMPARE(fade->fade().to.x, 800.0F);
        const auto told = [&](size_t i) { return std::string(toWord(report.at(i).how)); };
        QCOMPARE(told(0), std::string("same"));
        QCOMPARE(told(2), std::string("left-out"));

        report.clear();
        use.placesAll = true;
        const Take all = withPreset(makeTake(), preset, use, report);
        QCOMPARE(all.keeps[0].steps.size(), size_t(4));
        QCOMPARE(all.keeps[0].steps[0].insideOf, all.keeps[0].steps[2].id);
        const auto *placed = dynamic_cast<const BrushStep *>(all.keeps[0].steps[2].shape.get());
        QVERIFY(placed);
        QCOMPARE(placed->strokes()[0]->points[1].x, 400.0F);
        QCOMPARE(told(3), std::string("placed"));
    }

    void subjectsAreLookedFor()
    {
        Take take = makeTake();
        SubjectNote note;
        note.word = "boat";
        take = withNewStep(
            std::move(take), take.keeps[0].id, Sign::Add,
            std::make_shared<RegionStep>(RegionAsk{{}, Rect{1, 1, 9, 9}, 0}, MaskPlane(), note));
        const Preset preset = presetOf(take, {"keeps"}, "Boat", kWidth, kHeight);
        std::vector<CarriedStep> report;
        PresetUse use = plainUse();
        use.find = [](const std::string &, const StepShape &) { return nullptr; };
        QVERIFY(withPreset(makeTake(), preset, use, report).keeps[0].steps.empty());
        QVERIFY(report[0].how == CarriedStep::How::NotFound);
        CarryReport whole{report, {}};
        QVERIFY(whole.wantsALook());
        use.find = [](const std::string &, const StepShape &) { return fadeAt(1, 2, 3, 4); };
        QCOMPARE(withPreset(makeTake(), preset, use, report).keeps[0].steps.size(), size_t(1));
    }

    void knowsWhatItsMasksCovered()
    {
        // Half red, half grey; the keep is of red.
        const auto levels = test::levelsOf(kWidth, kHeight, [](int x, int) {
            return x < kWidth / 2 ? std::array{200, 40, 40} : std::array{120, 120, 120};
        });
        Take take = makeTake();
        const Oklab red = oklabOfSrgb(200 / 255.0, 40 / 255.0, 40 / 255.0);
        ColourWindow window;
        window.range.hueDeg = float(hueDeg(red));
        window.range.chroma = {float(chroma(red)) / 2, 0.4F, 0.02F};
        take = withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                           std::make_shared<ColourWindowStep>(window));
        std::vector<std::string> notes;
        const auto preset =
            presetFromText(presetToText(presetOf(take, {"keeps"}, "Red", *levels)), "x", notes);
        QVERIFY(preset);
        const SeenPart seen = preset->seen.at("Keep 1");
        QVERIFY(std::abs(seen.share - 0.5) < 0.01);
        QVERIFY(std::abs(seen.colour.a - red.a) < 0.01);

        CarryReport same;
        QVERIFY(withPresetOn(makeTake(), *preset, *levels, false, same));
        QVERIFY(!same.wantsALook() && same.lines.at(0).sure > 0.95F);
        const auto grey = test::levelsOf(kWidth, kHeight, [](int x, int y) {
            return x + y < 40 ? std::array{200, 40, 40} : std::array{120, 120, 120};
        });
        CarryReport other;
        QVERIFY(withPresetOn(makeTake(), *preset, *grey, false, other));
        QVERIFY(other.wantsALook());
    }

    void findsItAgainElsewhere()
    {
        // A red and blue thing on a mottled ground that has a little of the red.
        const auto scene = [](int left, int top, double light) {
            return test::levelsOf(kWidth, kHeight, [=](int x, int y) {
                const bool isIt = x >= left && x < left + 80 && y >= top && y < top + 50;
                std::array<int, 3> out{90 + (x * 7 + y * 13) % 40, 110, 100};
                if (isIt)
                    out = y < top + 25 ? std::array{190, 40, 40} : std::array{40, 50, 180};
                else if ((x / 20 + y / 20) % 9 == 0)
                    out = {180, 50, 45};
                for (int &each : out)
                    each = int(each * light);
                return out;
            });
        };
        Take take = makeTake();
        take =
            withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                        std::make_shared<OutlineStep>(std::vector<Outline>{{{{60, 50}, {}, {}},
                                                                            {{140, 50}, {}, {}},
                                                                            {{140, 100}, {}, {}},
                                                                            {{60, 100}, {}, {}}}}));
        const auto part = seenPart(*scene(60, 50, 1), take.keeps[0]);
        QVERIFY(part);
        const auto other = scene(250, 180, 0.7);
        const auto found = findAgain(*other, *part);
        QCOMPARE(found.size(), size_t(1));
        const Rect *box = found.data();
        QVERIFY(std::abs(box->x0 - 250) < 16 && std::abs(box->y0 - 180) < 16);
        QVERIFY2(
            std::abs(box->x1 - 330) < 16 && std::abs(box->y1 - 230) < 16,
            qPrintable(QString("%1 %2 %3 %4").arg(box->x0).arg(box->y0).arg(box->x1).arg(box->y1)));
    }

    void badFilesSayWhatAndWhy()
    {
        const auto detailOf = [](const std::string &text) {
            std::vector<std::string> notes;
            const auto read = presetFromText(text, "calm.json", notes);
            return read ? std::string("fine") : sentence(read.error());
        };
        QVERIFY(detailOf("{").find("calm.json") != std::string::npos);
        QVERIFY(detailOf("{}").find("no preset") != std::string::npos);
        QVERIFY(detailOf("{\"format\":\"buttonhole-preset\",\"readableFrom\":99,\"name\":\"x\"}")
                    .find("newer") != std::string::npos);
        QVERIFY(detailOf("{\"format\":\"buttonhole-preset\",\"name\":\"\"}").find("name") !=
                std::string::npos);
        QVERIFY(detailOf("{\"format\":\"buttonhole-preset\",\"name\":\"x\",\"groups\":[3]}")
                    .find("must be string") != std::string::npos);
        std::vector<std::string> notes;
        const auto newer = presetFromText(
            "{\"format\":\"buttonhole-preset\",\"name\":\"x\",\"groups\":[\"grain\",\"weave\"]}",
            "x", notes);
        QVERIFY(newer);
        QCOMPARE(newer->groups.size(), size_t(1));
        QVERIFY(notes.at(0).find("weave") != std::string::npos);
    }

    void storeKeepsFindsAndMoves()
    {
        QTemporaryDir folder;
        const PresetStore store(folder.filePath(QStringLiteral("own")).toStdString());
        QVERIFY(store.list().empty());
        const Preset calm = presetOf(fullTake(1), {"grain"}, "Calm/quiet", kWidth, kHeight);
        QVERIFY(store.save(calm, "Portraits"));
        QVERIFY(store.save(plainPreset({"grain"}, "No grain")));
        QFile broken(folder.filePath(QStringLiteral("own/broken.json")));
        QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("{\"format\":") > 0);
        broken.close();
        const auto all = store.list();
        QCOMPARE(all.size(), size_t(3));
        QVERIFY(!all[0].problem.empty() && all[0].preset.name == "broken");
        QCOMPARE(all[2].folder, std::string("Portraits"));
        const auto found = store.find("calm/quiet");
        QVERIFY(found);
        QCOMPARE(found->preset.groups.at(0), std::string("grain"));
        QVERIFY(!store.find("broken"));
        QVERIFY(sentence(store.find("nowhere").error()).find("No grain") != std::string::npos);

        QCOMPARE(int(store.move(*found, "No grain", "").error().kind), int(ErrorKind::Conflict));
        QVERIFY(store.move(*found, "Quiet", ""));
        QVERIFY(store.find("Quiet") && !store.find("Calm/quiet"));
        QVERIFY(store.remove(*store.find("Quiet")));
        QVERIFY(!store.find("Quiet"));
        QVERIFY(!store.save(plainPreset({}, " ")));
    }

    void shippedOnesAreWhole()
    {
        const PresetStore store("/nowhere", BUTTONHOLE_SOURCE "/presets");
        const auto all = store.list();
        QVERIFY(all.size() >= 8);
        for (const StoredPreset &each : all) {
            QVERIFY2(each.problem.empty(), each.problem.c_str());
            QVERIFY(each.isShipped && each.notes.empty() && !each.preset.groups.empty());
            std::vector<CarriedStep> report;
            withPreset(fullTake(1), each.preset, plainUse(), report);
            QVERIFY2(report.empty(), each.path.c_str()); // none needs other pixels
            QVERIFY(!store.remove(each));
        }
    }
};

BUTTONHOLE_TEST(TstPreset)
#include "tst_preset.moc"
