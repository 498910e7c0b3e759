#include "document/json_text.h"
#include "document/preset.h"
#include "document/take_json.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr const char *kPresetFormat = "buttonhole-preset";
constexpr size_t kMostGroups = 200;

Error badPreset(const std::string &subject, const std::string &what)
{
    return {ErrorKind::BadValue, subject, what};
}

constexpr double kShareParts = 1e4; ///< what shares of colours are counted in

json sharesToJson(const ColourShares &shares)
{
    json out = json::array();
    for (size_t i = 0; i < shares.bins.size(); ++i)
        if (const long parts = std::lround(double(shares.bins[i]) * kShareParts); parts > 0)
            out.push_back({i, parts});
    return out;
}

ColourShares sharesFrom(const json &in)
{
    ColourShares out;
    for (const json &each : in)
        if (const auto bin = each.at(0).get<uint64_t>(); bin < out.bins.size())
            out.bins[bin] = std::clamp(each.at(1).get<float>(), 0.0F, float(kShareParts));
    out.finish();
    return out;
}

json seenToJson(const SeenPart &part)
{
    return {{"share", part.share},
            {"colour", {part.colour.L, part.colour.a, part.colour.b}},
            {"box", {part.x0, part.y0, part.x1, part.y1}},
            {"inside", sharesToJson(part.inside)},
            {"outside", sharesToJson(part.outside)}};
}

/// Numbers of a list; each clamped to -1..1.
template <size_t N>
std::array<double, N> unitsFrom(const json &in)
{
    std::array<double, N> out{};
    for (size_t i = 0; i < N; ++i)
        out[i] = std::clamp(in.at(i).get<double>(), -1.0, 1.0);
    return out;
}

SeenPart seenFrom(const json &in)
{
    SeenPart out;
    out.share = std::clamp(in.at("share").get<double>(), 0.0, 1.0);
    const auto [L, a, b] = unitsFrom<3>(in.at("colour"));
    out.colour = {L, a, b};
    const auto [x0, y0, x1, y1] = unitsFrom<4>(in.at("box"));
    out.x0 = x0;
    out.y0 = y0;
    out.x1 = x1;
    out.y1 = y1;
    out.inside = sharesFrom(in.at("inside"));
    out.outside = sharesFrom(in.at("outside"));
    return out;
}

Result<Preset> readPreset(const json &in, const std::string &subject,
                          std::vector<std::string> &notes)
{
    if (!in.is_object() || in.value("format", "") != kPresetFormat)
        return badPreset(subject, "it is no preset of Buttonhole's");
    if (wholeFrom(in, "readableFrom", 1) > Preset::kVersion)
        return Error{ErrorKind::Newer, subject, "version " + in.value("version", json()).dump()};
    Preset out;
    out.name = in.value("name", "");
    if (out.name.empty() || out.name.size() > Preset::kMostName)
        return badPreset(subject, "name: 1 to 80 bytes are expected");
    const json groups = in.value("groups", json::array());
    if (groups.size() > kMostGroups)
        return badPreset(subject, "groups: there are more than 200");
    for (const json &each : groups) {
        const std::string id = each.get<std::string>();
        if (isTakeGroup(id))
            out.groups.push_back(id);
        else
            notes.push_back("\"" + id + "\" is from a newer version and is left out.");
    }
    const json photo = in.value("photo", json::object());
    out.width = int(std::clamp<int64_t>(wholeFrom(photo, "width", 0), 0, kMostPx));
    out.height = int(std::clamp<int64_t>(wholeFrom(photo, "height", 0), 0, kMostPx));
    const json seen = in.value("seen", json::object());
    for (const auto &[name, part] : seen.items())
        out.seen[name] = seenFrom(part);
    if (const auto member = in.find("export"); member != in.end())
        out.exportJson = member->dump();
    const json take = in.value("take", json::object());
    if (take.empty())
        return out;
    auto read =
        takeFromText(take.dump(), std::max(1, out.width), std::max(1, out.height), subject, notes);
    if (!read)
        return read.error();
    out.take = std::move(*read);
    return out;
}

} // namespace

std::string presetToText(const Preset &preset)
{
    json out{{"format", kPresetFormat},
             {"version", Preset::kVersion},
             {"name", preset.name},
             {"groups", preset.groups}};
    if (preset.width > 0)
        out["photo"] = {{"width", preset.width}, {"height", preset.height}};
    for (const auto &[name, part] : preset.seen)
        out["seen"][name] = seenToJson(part);
    out["take"] = takeToJson(preset.take, nullptr);
    if (!preset.exportJson.empty())
        out["export"] = json::parse(preset.exportJson);
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

Result<Preset> presetFromText(const std::string &text, const std::string &subject,
                              std::vector<std::string> &notes)
{
    const auto parsed = jsonFromText(text, subject);
    if (!parsed)
        return parsed.error();
    try {
        return readPreset(*parsed, subject, notes);
    } catch (const json::exception &problem) {
        return badPreset(subject, inWords(problem));
    }
}

} // namespace buttonhole
