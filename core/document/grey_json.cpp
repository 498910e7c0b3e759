#include "document/grey_json.h"

#include "base/param_json.h"
#include "tone/hue_curve.h"

#include <nlohmann/json.hpp>

#include <array>

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr std::array<std::string_view, 5> kBases = {"luminance", "lightness", "average", "extremes",
                                                    "blend"};
constexpr std::array<std::string_view, 6> kGlasses = {"none", "yellow", "orange",
                                                      "red",  "green",  "blue"};

/// The value of a word, or `otherwise` and a note.
template <class Value, size_t kCount>
Value fromWord(const std::array<std::string_view, kCount> &words, const std::string &word,
               Value otherwise, const char *what, std::vector<std::string> &notes)
{
    for (size_t i = 0; i < kCount; ++i)
        if (words[i] == word)
            return Value(i);
    notes.push_back(std::string("The ") + what + " \"" + word + "\" is from a newer version; " +
                    std::string(words[size_t(otherwise)]) + " is used.");
    return otherwise;
}

/// All but the numbers of greyParams().
GreyMix readRest(const json &in, std::vector<std::string> &notes)
{
    GreyMix mix;
    mix.base = fromWord(kBases, in.value("base", "luminance"), mix.base, "grey base", notes);
    mix.keepsTotal = in.value("blend", json::object()).value("keepsTotal", mix.keepsTotal);
    for (const json &point : in.value("hueCurve", json::array()))
        mix.hue.push_back({point.at("hue").get<float>(), point.at("value").get<float>(),
                           point.value("width", HuePoint().widthDeg)});
    mix.glass = fromWord(kGlasses, in.value("glass", json::object()).value("colour", "none"),
                         mix.glass, "glass", notes);
    for (const json &point : in.value("tone", json::object()).value("curve", json::array()))
        mix.tone.curve.push_back({point.at(0).get<float>(), point.at(1).get<float>()});
    mix.toning.overKeeps =
        in.value("toning", json::object()).value("overKeeps", mix.toning.overKeeps);
    mix.look = in.value("look", mix.look);
    return mix;
}

} // namespace

std::string_view toWord(GreyMix::Base base)
{
    return kBases[size_t(base)];
}

std::string_view toWord(Glass glass)
{
    return kGlasses[size_t(glass)];
}

json greyToJson(const GreyMix &mix)
{
    const GreyMix plain;
    json out{{"base", toWord(mix.base)}};
    paramsToJson(out, mix, greyParams());
    if (mix.keepsTotal != plain.keepsTotal)
        out["blend"]["keepsTotal"] = mix.keepsTotal;
    for (const HuePoint &point : mix.hue)
        out["hueCurve"].push_back(
            {{"hue", point.hueDeg}, {"value", point.value}, {"width", point.widthDeg}});
    if (mix.glass != plain.glass)
        out["glass"]["colour"] = toWord(mix.glass);
    for (const CurvePoint &point : mix.tone.curve)
        out["tone"]["curve"].push_back({point.x, point.y});
    if (mix.toning.overKeeps != plain.toning.overKeeps)
        out["toning"]["overKeeps"] = mix.toning.overKeeps;
    if (!mix.look.empty())
        out["look"] = mix.look;
    return out;
}

Result<GreyMix> greyFromJson(const json &in, std::vector<std::string> &notes)
{
    GreyMix mix = readRest(in, notes);
    auto fine = paramsFromJson(in, mix, greyParams());
    if (fine)
        fine = check(mix);
    if (!fine)
        return Error{fine.error().kind, "grey." + fine.error().subject, fine.error().detail};
    mix.hue = tidied(mix.hue);
    return mix;
}

} // namespace buttonhole
