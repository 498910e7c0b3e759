#include "document/take_json.h"

#include "registry.h"
#include "samples.h"
#include "tone/looks.h"

#include <nlohmann/json.hpp>

#include <functional>

using namespace buttonhole;
using nlohmann::json;

class TstTakeJson : public QObject
{
    Q_OBJECT

    static Result<Take> read(const json &in, std::vector<std::string> *notes = nullptr)
    {
        std::vector<std::string> own;
        return takeFromText(in.dump(), 300, 200, "take.json", notes ? *notes : own);
    }

    static json sample()
    {
        return json::parse(R"({"format": "buttonhole-take", "version": 1, "name": "Open day",
            "grey": {"on": false, "base": "luminance"},
            "keeps": [{"name": "Teal ball", "id": 3, "on": false, "strength": 0.25, "invert": true,
              "steps": [{"kind": "brush", "id": 5, "sign": "subtract", "on": false,
                         "strokes": [{"sizePx": 20, "points": [[50, 60]]}]}]}]})");
    }

private Q_SLOTS:
    void comesBackAsItWas()
    {
        const auto take = read(sample());
        QVERIFY2(take, take ? "" : sentence(take.error()).c_str());
        QCOMPARE(take->name, std::string("Open day"));
        QVERIFY(!take->greyOn);
        QCOMPARE(take->keeps.size(), size_t(1));
        const Keep &keep = take->keeps[0];
        QCOMPARE(keep.name, std::string("Teal ball"));
        QCOMPARE(keep.id, uint64_t(3));
        QVERIFY(!keep.on && keep.invert);
        QCOMPARE(keep.strength, 0.25F);
        QCOMPARE(keep.steps[0].sign, Sign::Subtract);
        QCOMPARE(keep.steps[0].id, uint64_t(5));
        QVERIFY(!keep.steps[0].on);
        QCOMPARE(take->nextId, uint64_t(6)); // ids are never used twice
        const json once = takeToJson(*take, nullptr);
        const auto again = read(once);
        QVERIFY(again);
        QCOMPARE(takeToJson(*again, nullptr).dump(), once.dump());
    }

    void aKeepsShapeAndLookComeBack()
    {
        json in = sample();
        QCOMPARE(takeToJson(*read(in), nullptr).at("readableFrom").get<int>(), 1);
        in["keeps"][0]["growPx"] = -4.5;
        in["keeps"][0]["featherPx"] = 12;
        in["keeps"][0]["look"] = {{"hueShiftDeg", -20}, {"saturation", 0.5}, {"lightness", 0.25},
                                  {"warmth", 0.125},    {"tintHueDeg", 200}, {"tint", 0.75}};
        const auto take = read(in);
        QVERIFY(take);
        QCOMPARE(take->keeps[0].growPx, -4.5F);
        QCOMPARE(take->keeps[0].featherPx, 12.0F);
        QCOMPARE(take->keeps[0].look, (ColourLook{-20, 0.5F, 0.25F, 0.125F, 200, 0.75F}));
        const json out = takeToJson(*take, nullptr);
        QCOMPARE(out.at("readableFrom").get<int>(), 3);
        QCOMPARE(read(out)->keeps[0].look, take->keeps[0].look);
        in["keeps"][0]["look"]["warmth"] = 2;
        QCOMPARE(read(in).error().kind, ErrorKind::BadValue);
    }

    void cleaningAndLimitsComeBack()
    {
        json in = sample();
        in["keeps"][0]["specksPx"] = 12;
        in["keeps"][0]["holesPx"] = 200;
        in["keeps"][0]["softEdgePx"] = 7.5;
        in["keeps"][0]["spill"] = 0.25;
        json second = in["keeps"][0]["steps"][0];
        second["id"] = 7;
        second["insideOf"] = 5;
        in["keeps"][0]["steps"].push_back(second);
        second["id"] = 8;
        second["insideOf"] = "what-is-there";
        in["keeps"][0]["steps"].push_back(second);
        const json out = takeToJson(*read(in), nullptr);
        QCOMPARE(out.at("readableFrom").get<int>(), 4);
        json newer = in;
        newer["keeps"][0]["softEdgeFound"] = true;
        const auto found = read(newer);
        QVERIFY(found && found->keeps[0].softEdgeFound);
        QCOMPARE(takeToJson(*found, nullptr).at("readableFrom").get<int>(), 5);
        QCOMPARE(takeToJson(*found, nullptr).at("keeps")[0].at("softEdgeFound").get<bool>(), true);
        newer = in;
        newer["keeps"][0]["steps"][1]["sign"] = "spill";
        const auto marked = read(newer);
        QVERIFY(marked && marked->keeps[0].steps[1].sign == Sign::Spill);
        QCOMPARE(takeToJson(*marked, nullptr).at("readableFrom").get<int>(), 5);
        newer["keeps"][0]["steps"][1]["invert"] = true;
        const auto inverted = read(newer);
        QVERIFY(inverted && inverted->keeps[0].steps[1].invert);
        QVERIFY(!inverted->keeps[0].steps[0].invert);
        const json back = takeToJson(*inverted, nullptr);
        QCOMPARE(back.at("readableFrom").get<int>(), 6);
        QVERIFY(read(back)->keeps[0].steps[1].invert);
        const auto take = read(out);
        QVERIFY(take);
        const Keep &keep = take->keeps[0];
        QCOMPARE(keep.specksPx, 12.0F);
        QCOMPARE(keep.holesPx, 200.0F);
        QCOMPARE(keep.softEdgePx, 7.5F);
        QCOMPARE(keep.spill, 0.25F);
        QCOMPARE(keep.steps[0].insideOf, Step::kAnywhere);
        QCOMPARE(keep.steps[1].insideOf, uint64_t(5));
        QCOMPARE(keep.steps[2].insideOf, Step::kWhatIsThere);
        in["keeps"][0]["holesPx"] = 201;
        QCOMPARE(read(in).error().kind, ErrorKind::BadValue);
        in["keeps"][0]["holesPx"] = 0;
        in["keeps"][0]["steps"][1]["insideOf"] = "there";
        QCOMPARE(read(in).error().kind, ErrorKind::BadValue);
    }

    void defaultsFillWhatIsLeftOut()
    {
        const auto take = read(json::parse(R"({"format": "buttonhole-take", "keeps": [{}]})"));
        QVERIFY(take);
        QVERIFY(take->greyOn);
        QCOMPARE(take->keeps[0].name, std::string("Keep 1"));
        QCOMPARE(take->keeps[0].strength, 1.0F);
        QVERIFY(take->keeps[0].on && take->keeps[0].steps.empty());
    }

    void whatANewerVersionWroteIsKept()
    {
        json in = sample();
        in["mount"] = {{"card", 12}};
        in["keeps"][0]["fuzz"] = {1, 2};
        in["keeps"][0]["steps"].push_back({{"kind", "loupe"}, {"id", 9}, {"depth", 4}});
        in["grey"]["base"] = "velvet";
        std::vector<std::string> notes;
        const auto take = read(in, &notes);
        QVERIFY(take);
        QCOMPARE(notes.size(), size_t(2)); // the base and the step
        const json out = takeToJson(*take, nullptr);
        QCOMPARE(out.at("mount").dump(), in.at("mount").dump());
        QCOMPARE(out.at("keeps")[0].at("fuzz").dump(), in.at("keeps")[0].at("fuzz").dump());
        QCOMPARE(out.at("keeps")[0].at("steps")[1].at("depth").get<int>(), 4);
    }

    void theGreyMixComesBack()
    {
        GreyMix mix = findLook("Old plate")->mix;
        mix.hue = {{20, -35, 44}, {250, 80, 60}};
        mix.glass = Glass::Green;
        mix.glassStrength = 0.5F;
        mix.tone.black = 0.05F;
        mix.tone.curve = {{0, 0}, {0.25F, 0.5F}};
        mix.toning.overKeeps = true;
        mix.colourLeft = 0.25F;
        mix.strength = 0.75F;
        Take take = makeTake();
        take.grey = mix;
        const json written = takeToJson(take, nullptr);
        QCOMPARE(written.at("readableFrom").get<int>(), 2);
        const auto back = read(written);
        QVERIFY(back);
        QVERIFY(back->grey == mix);
        QCOMPARE(takeToJson(makeTake(), nullptr).at("readableFrom").get<int>(), 1);
        QCOMPARE(takeToJson(makeTake(), nullptr).at("grey").size(), size_t(2)); // on and base
        // What a newer version adds to the grey is kept; what is out of range is refused by name.
        json in = sample();
        in["grey"]["sheen"] = 3;
        QCOMPARE(takeToJson(*read(in), nullptr).at("grey").at("sheen").get<int>(), 3);
        in["grey"]["tone"] = {{"contrast", 400}};
        QVERIFY(read(in).error().detail.find("grey.tone.contrast") != std::string::npos);
    }

    void badTakesAreRefused_data()
    {
        QTest::addColumn<QString>("patch"); // an RFC 7396 merge patch on the sample
        QTest::addColumn<int>("kind");
        const int invalid = int(ErrorKind::BadValue);
        QTest::newRow("another format") << R"({"format": "recipe"})" << invalid;
        QTest::newRow("newer") << R"({"readableFrom": 99, "version": 99})" << int(ErrorKind::Newer);
        QTest::newRow("strength 2") << R"({"keeps": [{"strength": 2}]})" << invalid;
        QTest::newRow("strength in words") << R"({"keeps": [{"strength": "full"}]})" << invalid;
        QTest::newRow("keeps are no list") << R"({"keeps": 5})" << invalid;
        QTest::newRow("a keep is no object") << R"({"keeps": [5]})" << invalid;
        QTest::newRow("step without kind") << R"({"keeps": [{"steps": [{}]}]})" << invalid;
        QTest::newRow("unknown sign")
            << R"({"keeps": [{"steps": [{"kind": "brush", "sign": "times", "strokes": []}]}]})"
            << invalid;
        QTest::newRow("name is a number") << R"({"name": 5})" << invalid;
    }
    void badTakesAreRefused()
    {
        QFETCH(QString, patch);
        QFETCH(int, kind);
        json in = sample();
        in.merge_patch(json::parse(patch.toStdString()));
        const auto take = read(in);
        QVERIFY(!take);
        QCOMPARE(int(take.error().kind), kind);
        QCOMPARE(take.error().subject, std::string("take.json"));
    }

    void whoWritesATakeIsToldWhere_data()
    {
        QTest::addColumn<QString>("patch");
        QTest::addColumn<QString>("where");
        QTest::newRow("left out") << R"({"keeps": [{}, {"steps": [{"kind": "match", "clicks": []},
                {"kind": "match", "clicks": [{"at": [1, 2]}]}]}]})"
                                  << R"(keeps[1].steps[1]: "oklab" is missing)";
        QTest::newRow("another type") << R"({"keeps": [{"steps": [{"kind": "brush", "strokes": 3,
                "sign": 5}]}]})"
                                      << "keeps[0].steps[0]: type must be string, but is number";
        QTest::newRow("of a keep") << R"({"keeps": [{"on": "yes"}]})"
                                   << "keeps[0]: type must be boolean, but is string";
    }
    void whoWritesATakeIsToldWhere()
    {
        QFETCH(QString, patch);
        QFETCH(QString, where);
        json in = sample();
        in.merge_patch(json::parse(patch.toStdString()));
        QCOMPARE(QString::fromStdString(read(in).error().detail), where);
    }

    /// What is at its start again is left out, and must not come back as what is not understood.
    void numbersPutBackStayPutBack()
    {
        json in = sample();
        in["keeps"][0]["glow"] = {{"strength", 1}, {"sizePx", 40}, {"newer", 7}};
        in["keeps"][0]["look"] = {{"saturation", 0.5}};
        auto take = read(in);
        QVERIFY(take);
        take->keeps[0].glow = Glow();
        take->keeps[0].look = ColourLook();
        const json out = takeToJson(*take, nullptr);
        QCOMPARE(out.at("keeps").at(0).at("glow").dump(), std::string("{\"newer\":7}"));
        QVERIFY(!out.at("keeps").at(0).contains("look"));
        const auto again = read(out);
        QVERIFY(again);
        QCOMPARE(again->keeps[0].glow.strength, 0.0F);
        QCOMPARE(again->keeps[0].glow.sizePx, Glow().sizePx);
    }

    /// A take is read from the version on that the newest of its parts asks for, whatever else is
    /// in it: each pair of parts asks for the higher of both.
    void thePartsAskForTheirVersions()
    {
        struct Part {
            const char *name;
            int since;
            std::function<void(json &)> add;
        };
        const auto line = [](json &in, const char *list, const char *kind, json numbers) {
            numbers["kind"] = kind;
            in[list].push_back(numbers);
        };
        const json step{{"kind", "brush"}, {"strokes", json::array()}};
        const std::vector<Part> parts{
            {"plain", 1, [](json &) {}},
            {"inverted", 6,
             [&](json &in) {
                 json one = step;
                 one["invert"] = true;
                 in["keeps"][0]["steps"].push_back(one);
             }},
            {"inverted in a tone", 7,
             [&](json &in) {
                 json one = step;
                 one["invert"] = true;
                 in["tones"].push_back({{"steps", {one}}, {"effects", json::array()}});
             }},
            {"glow", 11, [](json &in) { in["keeps"][0]["glow"]["strength"] = 1; }},
            {"found edge", 5, [](json &in) { in["keeps"][0]["softEdgeFound"] = true; }},
            {"removal", 10,
             [](json &in) {
                 in["removals"].push_back({{"steps", json::array()}});
             }},
            {"crop", 8, [](json &in) { in["geometry"]["quarterTurns"] = 1; }},
            {"light", 7,
             [&](json &in) {
                 line(in, "prepare", "light", {{"exposure", 0.5}});
             }},
            {"vignette", 10,
             [&](json &in) {
                 line(in, "finish", "vignette", {{"amount", 0.5}});
             }},
            {"signature", 12, [&](json &in) {
                 line(in, "finish", "signature", {{"text", "F"}});
             }}};
        const auto versionOf = [&](const json &in) {
            const auto take = read(in);
            return take ? takeToJson(*take, nullptr).at("readableFrom").get<int>() : 0;
        };
        std::vector<int> alone;
        for (const Part &part : parts) {
            json in = sample();
            part.add(in);
            alone.push_back(versionOf(in));
            QVERIFY2(alone.back() >= 1, part.name);
            if (std::string_view(part.name) != "light" && std::string_view(part.name) != "vignette")
                QVERIFY2(alone.back() == part.since,
                         (part.name + (" " + std::to_string(alone.back()))).c_str());
        }
        for (size_t a = 0; a < parts.size(); ++a)
            for (size_t b = 0; b < parts.size(); ++b) {
                json in = sample();
                parts[a].add(in);
                parts[b].add(in);
                QVERIFY2(versionOf(in) == std::max(alone[a], alone[b]),
                         (std::string(parts[a].name) + " with " + parts[b].name).c_str());
            }
    }

    /// Every number of a step of each sort, beyond all bounds: refused, or written so that it is
    /// read again.
    void whatIsTakenCanBeReadAgain()
    {
        json in = sample();
        in["keeps"][0]["steps"] = json::parse(R"([
            {"kind": "brush", "strokes": [{"sizePx": 20, "points": [[50, 60, 0.5]]}]},
            {"kind": "match", "clicks": [{"at": [10, 20], "oklab": [0.5, 0.1, 0.1]}]},
            {"kind": "colour-window", "hueDeg": 30}, {"kind": "tone-window", "from": 0.2},
            {"kind": "fade", "from": [0, 0], "to": [50, 60]},
            {"kind": "outline", "points": [[0, 0], [50, 0], [50, 60]]}])");
        in["grey"] = json::parse(R"({"base": "luminance", "blend": [0.2, 0.3, 0.5],
            "hueCurve": [{"hue": 30, "value": 0.5, "width": 20}], "tone": {"curve": [[0.2, 0.3]]}})");
        in["finish"] = json::parse(R"([{"kind": "vignette", "amount": 0.5}])");
        int refused = 0;
        int taken = 0;
        const json flat = in.flatten();
        for (const auto &[place, value] : flat.items()) {
            if (!value.is_number())
                continue;
            for (const double number : {1e308, -1e308, 1e39, -1e39, 1e9, -1e9}) {
                json changed = in;
                changed[json::json_pointer(place)] = number;
                const auto take = read(changed);
                refused += take ? 0 : 1;
                if (!take)
                    continue;
                ++taken;
                const json out = json::parse(takeToJson(*take, nullptr).dump());
                const auto again = read(out);
                QVERIFY2(again, (place + ": " + (again ? "" : sentence(again.error()))).c_str());
                QVERIFY2(takeToJson(*again, nullptr).dump() == out.dump(), place.c_str());
            }
        }
        QVERIFY(refused > 60);
        qInfo("%d refused, %d taken", refused, taken);
    }

    void textThatIsNoJson()
    {
        std::vector<std::string> notes;
        const Error error = takeFromText("{\"format\":\n, 3}", 10, 10, "t.json", notes).error();
        QCOMPARE(error.kind, ErrorKind::Damaged);
        QVERIFY2(error.detail.rfind("it is not JSON: parse error at line 2, column 1", 0) == 0,
                 error.detail.c_str());
    }
};

BUTTONHOLE_TEST(TstTakeJson)

#include "tst_take_json.moc"
