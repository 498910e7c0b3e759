#include "random_take.h"

#include "base/param_json.h"
#include "document/take.h"
#include "light/signature.h"
#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/step_json.h"
#include "mask/stroke.h"
#include "mask/tone_window.h"
#include "segment/region_solver.h"

#include <algorithm>

namespace buttonhole::test
{

using nlohmann::json;

float RandomTake::number(float least, float most)
{
    if (oneIn(8))
        return least;
    if (oneIn(8))
        return most;
    return std::clamp(least + float(share()) * (most - least), least, most);
}

json RandomTake::box()
{
    const int x = upTo(m_width - 2);
    const int y = upTo(m_height - 2);
    return {{"x", x},
            {"y", y},
            {"width", 1 + upTo(m_width - x - 1)},
            {"height", 1 + upTo(m_height - y - 1)}};
}

template <class T>
void RandomTake::addNumbers(json &out, std::span<const Param<T>> rows, int oneOf)
{
    for (const Param<T> &row : rows) {
        if (!oneIn(oneOf))
            continue;
        const float value = number(row.least, row.most);
        *memberAt(out, row.id) = value;
        if (value != row.initial())
            needs(row.since);
    }
}

json RandomTake::range()
{
    json out = json::object();
    addNumbers(out, colourRangeParams(), 2);
    return out;
}

json RandomTake::shape()
{
    json out = json::object();
    const auto places = [&](int most) {
        json all = json::array();
        for (int i = upTo(most); i >= 0; --i)
            all.push_back(place());
        return all;
    };
    switch (upTo(oneIn(8) ? 6 : 5)) {
    case 0:
        out["kind"] = "brush";
        for (int i = upTo(2); i >= 0; --i) {
            json stroke{{"points", places(3)}};
            addNumbers(stroke, tipParams());
            stroke["sizePx"] = number(1, 120);
            if (oneIn(3))
                stroke["takesBack"] = true;
            out["strokes"].push_back(std::move(stroke));
        }
        break;
    case 1:
        out["kind"] = "match";
        addNumbers(out, matchParams(), 2);
        out["connected"] = oneIn(2);
        for (int i = upTo(3); i >= 0; --i)
            out["clicks"].push_back({{"at", place()},
                                     {"oklab", {share(), share() * 0.4 - 0.2, share() * 0.4 - 0.2}},
                                     {"left", oneIn(4)}});
        break;
    case 2:
        out["kind"] = "colour-window";
        out["range"] = range();
        out["followsShading"] = oneIn(2);
        if (oneIn(3))
            out["excluded"] = {range()};
        out["places"] = places(2);
        out["connected"] = oneIn(2);
        break;
    case 3:
        out["kind"] = "tone-window";
        addNumbers(out, toneRangeParams(), 2);
        break;
    case 4:
        out["kind"] = "outline";
        out["outlines"] = {{place(), place(), place(), place()}};
        break;
    case 5:
        out["kind"] = "fade";
        out["shape"] = oneIn(2) ? "round" : "straight";
        out["from"] = place();
        out["to"] = place();
        addNumbers(out, fadeParams(), 2);
        break;
    default:
        out["kind"] = "region";
        addNumbers(out, regionAskParams(), 3);
        out["marks"] = {{{"points", places(2)}}, {{"points", places(1)}, {"leave", true}}};
        break;
    }
    return out;
}

json RandomTake::step()
{
    json out = shape();
    out["id"] = ++m_lastId;
    constexpr const char *kSigns[] = {"add", "subtract", "only-inside", "fuzz", "spill"};
    const int sign = oneIn(3) ? upTo(4) : 0;
    out["sign"] = kSigns[sign];
    needs(sign == 3 ? 4 : sign == 4 ? 5 : 1);
    out["on"] = !oneIn(8);
    if (oneIn(6)) {
        out["invert"] = true;
        needs(6);
    }
    if (oneIn(6)) {
        out["insideOf"] = "what-is-there";
        needs(4);
    }
    return out;
}

json RandomTake::masked(const char *name)
{
    json out{{"name", name + std::to_string(++m_lastId)},
             {"on", !oneIn(8)},
             {"invert", oneIn(5)},
             {"steps", json::array()}};
    for (int i = upTo(3); i > 0; --i)
        out["steps"].push_back(step());
    return out;
}

json RandomTake::adjustment(std::initializer_list<const char *> kinds)
{
    const std::string kind = kinds.begin()[upTo(int(kinds.size()) - 1)];
    json out{{"kind", kind}};
    const AdjustmentKind *known = adjustmentKinds().find(kind);
    needs(known->since);
    for (const AnyParam &row : known->numbers) {
        if (!oneIn(2))
            continue;
        const float value = number(row.least, row.most);
        *memberAt(out, row.id) = value;
        if (value != row.initial)
            needs(row.since);
    }
    if (kind == Signature::kKind)
        out["text"] = "Fernhollow Mill";
    if (kind == "mends") {
        json spot{{"x", share() * m_width}, {"y", share() * m_height}, {"radius", 1 + upTo(9)}};
        spot["dx"] = 15 + upTo(9);
        spot["dy"] = -upTo(9);
        out["spots"] = {std::move(spot)};
    }
    return out;
}

json RandomTake::lines(std::initializer_list<const char *> kinds)
{
    json out = json::array();
    for (const char *kind : kinds) {
        if (!oneIn(3))
            continue;
        needs(7);
        out.push_back(adjustment({kind}));
        out.back()["on"] = !oneIn(8);
    }
    return out;
}

json RandomTake::grey()
{
    json out{{"on", !oneIn(8)}};
    if (oneIn(3))
        return out;
    needs(2);
    constexpr const char *kBases[] = {"lightness", "average", "extremes", "blend"};
    constexpr const char *kGlasses[] = {"yellow", "orange", "red", "green", "blue"};
    out["base"] = kBases[upTo(3)];
    addNumbers(out, greyParams(), 3);
    *memberAt(out, "strength") = 0.25 + share() / 2;
    if (oneIn(2))
        out["glass"]["colour"] = kGlasses[upTo(4)];
    for (int i = upTo(2); i > 0; --i)
        out["hueCurve"].push_back(
            {{"hue", 100 * i + upTo(50)}, {"value", upTo(200) - 100}, {"width", 30 + upTo(60)}});
    if (oneIn(3))
        out["tone"]["curve"] = {{0, 0.05}, {0.4, 0.3 + share() * 0.3}, {1, 0.95}};
    if (oneIn(4))
        out["toning"]["overKeeps"] = true;
    return out;
}

json RandomTake::geometry()
{
    json out{{"mirrored", oneIn(2)}, {"quarterTurns", upTo(3)}};
    if (oneIn(2))
        out["crop"] = box();
    json straighten = json::object();
    addNumbers(straighten, Straightening::rows(), oneIn(2) ? 2 : 100);
    if (!straighten.empty())
        out["straighten"] = std::move(straighten);
    return out;
}

void RandomTake::make()
{
    m_json = {{"format", "buttonhole-take"}, {"name", "Take 1"}};
    m_json["grey"] = grey();
    m_json["keeps"] = json::array();
    for (int i = upTo(3); i > 0; --i) {
        json keep = masked("Keep ");
        addNumbers(keep, keepParams(), 5);
        m_json["keeps"].push_back(std::move(keep));
    }
    for (int i = oneIn(2) ? upTo(2) : 0; i > 0; --i) {
        constexpr const char *kActsOn[] = {"all", "grey", "kept"};
        json tone = masked("Local ");
        addNumbers(tone, localToneParams(), 5);
        needs(7);
        const int actsOn = upTo(2);
        tone["actsOn"] = kActsOn[actsOn];
        needs(actsOn > 0 ? 10 : 1);
        for (int k = upTo(2); k > 0; --k)
            tone["effects"].push_back(
                adjustment({"light", "sharpness", "curve", "fog", "texture", "blur"}));
        m_json["tones"].push_back(std::move(tone));
    }
    for (int i = oneIn(4) ? 1 : 0; i > 0; --i) {
        json removal = masked("Removal ");
        addNumbers(removal, removalParams(), 5);
        needs(10);
        if (oneIn(2))
            removal["source"] = box();
        m_json["removals"].push_back(std::move(removal));
    }
    m_json["prepare"] = lines({"mends", "lens", "noise", "light", "sharpness"});
    m_json["finish"] = lines({"toneColours", "grain", "vignette", "frame", "signature"});
    std::shuffle(m_json["finish"].begin(), m_json["finish"].end(), m_random);
    if (oneIn(2)) {
        m_json["geometry"] = geometry();
        const json plain{{"mirrored", false}, {"quarterTurns", 0}};
        if (m_json["geometry"] != plain)
            needs(8);
    }
}

} // namespace buttonhole::test
