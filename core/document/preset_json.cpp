#include "document/json_text.h"
#include "document/preset.h"
#include "document/take_json.h"

#include <algorithm>

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
    for (const auto &[name, part] : in.value("seen", json::object()).items())
        out.seen[name] = {
            part.at("share").get<double>(),
            {part.at("L").get<double>(), part.at("a").get<double>(), part.at("b").get<double>()}};
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
        out["seen"][name] = {{"share", part.share},
                             {"L", part.colour.L},
                             {"a", part.colour.a},
                             {"b", part.colour.b}};
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
