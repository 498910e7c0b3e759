#include "document/take_json.h"

#include "document/grey_json.h"

#include <nlohmann/json.hpp>

namespace buttonhole
{

namespace
{

using nlohmann::json;

/// The members of `in` that this version does not know, as text; empty where there are none.
std::string extraOf(json in, std::initializer_list<const char *> own)
{
    for (const char *name : own)
        in.erase(name);
    return in.empty() ? std::string() : in.dump();
}

json startFrom(const std::string &extra)
{
    return extra.empty() ? json::object() : json::parse(extra);
}

json stepToJson(const Step &step, const Keep &keep, MaskWriter *writer)
{
    json out{{"id", step.id},
             {"kind", step.shape->kind()},
             {"sign", toWord(step.sign)},
             {"on", step.on}};
    step.shape->toJson(out, writer,
                       "keep-" + std::to_string(keep.id) + "-step-" + std::to_string(step.id));
    return out;
}

Result<Step> readStep(const json &in, MaskReader &reader, Take &take)
{
    const auto sign = signFromWord(in.value("sign", "add"));
    if (!sign)
        return sign.error();
    auto shape = stepFromJson(in, reader);
    if (!shape)
        return shape.error();
    Step step;
    step.id = in.contains("id") ? in.at("id").get<uint64_t>() : take.nextId;
    take.nextId = std::max(take.nextId, step.id + 1);
    step.sign = *sign;
    step.on = in.value("on", true);
    step.shape = std::move(*shape);
    return step;
}

Result<Keep> readKeep(const json &in, MaskReader &reader, Take &take)
{
    Keep keep;
    keep.id = in.contains("id") ? in.at("id").get<uint64_t>() : take.nextId;
    take.nextId = std::max(take.nextId, keep.id + 1);
    keep.name = in.value("name", "Keep " + std::to_string(take.keeps.size() + 1));
    keep.on = in.value("on", true);
    keep.invert = in.value("invert", false);
    keep.strength = in.value("strength", 1.0F);
    if (!(keep.strength >= 0 && keep.strength <= 1))
        return Error{ErrorKind::InvalidArgument, "strength", "a number from 0 to 1 is expected"};
    const json steps = in.value("steps", json::array());
    for (size_t i = 0; i < steps.size(); ++i) {
        auto step = readStep(steps[i], reader, take);
        if (!step) {
            Error error = step.error();
            error.subject = "steps[" + std::to_string(i) + "]: " + error.subject;
            return error;
        }
        keep.steps.push_back(std::move(*step));
    }
    keep.extraJson = extraOf(in, {"id", "name", "on", "strength", "invert", "steps"});
    return keep;
}

Result<Take> readTake(const json &in, MaskReader &reader)
{
    if (!in.is_object() || in.value("format", "") != "buttonhole-take")
        return Error{ErrorKind::InvalidArgument, "take",
                     "an object with \"format\": \"buttonhole-take\" is expected"};
    if (in.value("readableFrom", 1) > kTakeVersion)
        return Error{ErrorKind::Newer, "take", "version " + in.value("version", json()).dump()};
    Take take;
    take.name = in.value("name", take.name);
    take.nextId = in.value("nextId", uint64_t(1));
    const json grey = in.value("grey", json::object());
    take.greyOn = grey.value("on", true);
    auto mix = greyFromJson(grey, reader.notes);
    if (!mix)
        return mix.error();
    take.grey = std::move(*mix);
    take.greyExtraJson = extraOf(grey, {"on", "base", "blend", "hueCurve", "glass", "tone",
                                        "toning", "colourLeft", "look", "strength"});
    const json keeps = in.value("keeps", json::array());
    for (size_t i = 0; i < keeps.size(); ++i) {
        auto keep = readKeep(keeps[i], reader, take);
        if (!keep) {
            Error error = keep.error();
            error.subject = "keeps[" + std::to_string(i) + "]." + error.subject;
            return error;
        }
        take.keeps.push_back(std::move(*keep));
    }
    take.extraJson =
        extraOf(in, {"format", "version", "readableFrom", "name", "grey", "keeps", "nextId"});
    return take;
}

} // namespace

json takeToJson(const Take &take, MaskWriter *writer)
{
    json keeps = json::array();
    for (const Keep &keep : take.keeps) {
        json steps = json::array();
        for (const Step &step : keep.steps)
            steps.push_back(stepToJson(step, keep, writer));
        json one = startFrom(keep.extraJson);
        one["id"] = keep.id;
        one["name"] = keep.name;
        one["on"] = keep.on;
        one["strength"] = keep.strength;
        one["invert"] = keep.invert;
        one["steps"] = std::move(steps);
        keeps.push_back(std::move(one));
    }
    json out = startFrom(take.extraJson);
    out["format"] = "buttonhole-take";
    out["version"] = kTakeVersion;
    // The first version knew no grey but luminance.
    out["readableFrom"] = take.grey.isPlain() && !take.grey.isTinted() ? 1 : 2;
    out["name"] = take.name;
    out["nextId"] = take.nextId;
    out["grey"] = startFrom(take.greyExtraJson);
    out["grey"].update(greyToJson(take.grey));
    out["grey"]["on"] = take.greyOn;
    out["keeps"] = std::move(keeps);
    return out;
}

Result<Take> takeFromJson(const json &in, MaskReader &reader)
{
    try {
        return readTake(in, reader);
    } catch (const json::exception &problem) {
        return Error{ErrorKind::InvalidArgument, "take", problem.what()};
    }
}

Result<Take> takeFromText(const std::string &text, int width, int height,
                          const std::string &subject, std::vector<std::string> &notes)
{
    struct NoMasks final : MaskReader {
        Result<MaskPlane> get(const json &) override
        {
            return Error{ErrorKind::NotFound, "mask picture", "a take alone brings none"};
        }
    } reader;
    reader.width = width;
    reader.height = height;
    const json parsed = json::parse(text, nullptr, false);
    if (parsed.is_discarded())
        return Error{ErrorKind::Damaged, subject, "it is not JSON"};
    auto take = takeFromJson(parsed, reader);
    notes.insert(notes.end(), reader.notes.begin(), reader.notes.end());
    if (!take) {
        Error error = take.error();
        error.detail = error.subject + ": " + error.detail;
        error.subject = subject;
        return error;
    }
    return take;
}

} // namespace buttonhole
