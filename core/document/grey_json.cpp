#include "document/grey_json.h"

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

struct Number {
    const char *name;
    float *value;
    float initial;
};

std::vector<Number> numbersOf(Tone &tone)
{
    const Tone plain;
    return {{"black", &tone.black, plain.black},
            {"middle", &tone.middle, plain.middle},
            {"white", &tone.white, plain.white},
            {"contrast", &tone.contrast, plain.contrast},
            {"pivot", &tone.pivot, plain.pivot},
            {"highlights", &tone.highlights, plain.highlights},
            {"shadows", &tone.shadows, plain.shadows},
            {"localContrast", &tone.local, plain.local},
            {"fineContrast", &tone.fine, plain.fine}};
}

json toneToJson(Tone tone)
{
    json out = json::object();
    for (const Number &number : numbersOf(tone))
        if (*number.value != number.initial)
            out[number.name] = *number.value;
    for (const CurvePoint &point : tone.curve)
        out["curve"].push_back({point.x, point.y});
    return out;
}

Tone readTone(const json &in)
{
    Tone tone;
    for (const Number &number : numbersOf(tone))
        *number.value = in.value(number.name, number.initial);
    for (const json &point : in.value("curve", json::array()))
        tone.curve.push_back({point.at(0).get<float>(), point.at(1).get<float>()});
    return tone;
}

json toningToJson(const Toning &toning)
{
    return {{"shadows", {{"hue", toning.shadowHueDeg}, {"saturation", toning.shadowSaturation}}},
            {"highlights",
             {{"hue", toning.highlightHueDeg}, {"saturation", toning.highlightSaturation}}},
            {"balance", toning.balance},
            {"overKeeps", toning.overKeeps}};
}

Toning readToning(const json &in)
{
    Toning toning;
    const json shadows = in.value("shadows", json::object());
    const json highlights = in.value("highlights", json::object());
    toning.shadowHueDeg = shadows.value("hue", toning.shadowHueDeg);
    toning.shadowSaturation = shadows.value("saturation", toning.shadowSaturation);
    toning.highlightHueDeg = highlights.value("hue", toning.highlightHueDeg);
    toning.highlightSaturation = highlights.value("saturation", toning.highlightSaturation);
    toning.balance = in.value("balance", toning.balance);
    toning.overKeeps = in.value("overKeeps", toning.overKeeps);
    return toning;
}

GreyMix readMix(const json &in, std::vector<std::string> &notes)
{
    GreyMix mix;
    mix.base = fromWord(kBases, in.value("base", "luminance"), mix.base, "grey base", notes);
    const json blend = in.value("blend", json::object());
    mix.blend = {blend.value("red", mix.blend[0]), blend.value("green", mix.blend[1]),
                 blend.value("blue", mix.blend[2])};
    mix.keepsTotal = blend.value("keepsTotal", mix.keepsTotal);
    for (const json &point : in.value("hueCurve", json::array()))
        mix.hue.push_back({point.at("hue").get<float>(), point.at("value").get<float>(),
                           point.value("width", HuePoint().widthDeg)});
    const json glass = in.value("glass", json::object());
    mix.glass = fromWord(kGlasses, glass.value("colour", "none"), mix.glass, "glass", notes);
    mix.glassStrength = glass.value("strength", mix.glassStrength);
    mix.tone = readTone(in.value("tone", json::object()));
    mix.toning = readToning(in.value("toning", json::object()));
    mix.colourLeft = in.value("colourLeft", mix.colourLeft);
    mix.look = in.value("look", mix.look);
    mix.strength = in.value("strength", mix.strength);
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
    if (mix.blend != plain.blend || mix.keepsTotal != plain.keepsTotal)
        out["blend"] = {{"red", mix.blend[0]},
                        {"green", mix.blend[1]},
                        {"blue", mix.blend[2]},
                        {"keepsTotal", mix.keepsTotal}};
    for (const HuePoint &point : mix.hue)
        out["hueCurve"].push_back(
            {{"hue", point.hueDeg}, {"value", point.value}, {"width", point.widthDeg}});
    if (mix.glass != plain.glass || mix.glassStrength != plain.glassStrength)
        out["glass"] = {{"colour", toWord(mix.glass)}, {"strength", mix.glassStrength}};
    if (!(mix.tone == plain.tone))
        out["tone"] = toneToJson(mix.tone);
    if (!(mix.toning == plain.toning))
        out["toning"] = toningToJson(mix.toning);
    if (mix.colourLeft != plain.colourLeft)
        out["colourLeft"] = mix.colourLeft;
    if (!mix.look.empty())
        out["look"] = mix.look;
    if (mix.strength != plain.strength)
        out["strength"] = mix.strength;
    return out;
}

Result<GreyMix> greyFromJson(const json &in, std::vector<std::string> &notes)
{
    GreyMix mix = readMix(in, notes);
    if (auto fine = check(mix); !fine) {
        Error error = fine.error();
        error.subject = "grey." + error.subject;
        return error;
    }
    mix.hue = tidied(mix.hue);
    return mix;
}

} // namespace buttonhole
