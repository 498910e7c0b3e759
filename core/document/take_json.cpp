#include "document/take_json.h"

#include "base/param_json.h"
#include "document/grey_json.h"
#include "document/json_text.h"

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

constexpr const char *kWhatIsThere = "what-is-there";
constexpr size_t kMostKeeps = 500;  // each costs memory, whatever it holds
constexpr size_t kMostSteps = 2000; // in a keep

json stepToJson(const Step &step, const Keep &keep, MaskWriter *writer)
{
    json out{{"id", step.id},
             {"kind", step.shape->kind()},
             {"sign", toWord(step.sign)},
             {"on", step.on}};
    if (step.invert)
        out["invert"] = true;
    if (step.insideOf == Step::kWhatIsThere)
        out["insideOf"] = kWhatIsThere;
    else if (step.insideOf != Step::kAnywhere)
        out["insideOf"] = step.insideOf;
    if (writer)
        writer->startShape(step.shape->content());
    step.shape->toJson(out, writer,
                       "keep-" + std::to_string(keep.id) + "-step-" + std::to_string(step.id));
    return out;
}

/// Reads one of a list. Errors say which: keeps[0].steps[2]: ...
template <typename Read>
auto readAt(const char *list, size_t i, Read read) -> decltype(read())
{
    const std::string place = std::string(list) + "[" + std::to_string(i) + "]";
    try {
        auto out = read();
        if (out)
            return out;
        Error error = out.error();
        const bool isDeeper = error.subject.rfind("steps[", 0) == 0;
        error.subject = place + (isDeeper ? "." : ": ") + error.subject;
        return error;
    } catch (const json::exception &problem) {
        return Error{ErrorKind::InvalidArgument, place, inWords(problem)};
    }
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
    step.id = uint64_t(wholeFrom(in, "id", int64_t(take.nextId)));
    take.nextId = std::max(take.nextId, step.id + 1);
    step.sign = *sign;
    step.on = in.value("on", true);
    step.invert = in.value("invert", false);
    if (const auto inside = in.find("insideOf"); inside != in.end())
        step.insideOf = *inside == kWhatIsThere ? Step::kWhatIsThere : uint64_t(wholeFrom(*inside));
    step.shape = std::move(*shape);
    return step;
}

Result<Keep> readKeep(const json &in, MaskReader &reader, Take &take)
{
    Keep keep;
    keep.id = uint64_t(wholeFrom(in, "id", int64_t(take.nextId)));
    take.nextId = std::max(take.nextId, keep.id + 1);
    keep.name = in.value("name", "Keep " + std::to_string(take.keeps.size() + 1));
    keep.on = in.value("on", true);
    keep.invert = in.value("invert", false);
    keep.softEdgeFound = in.value("softEdgeFound", false);
    if (auto fine = paramsFromJson(in, keep, keepParams()); !fine)
        return fine.error();
    const json steps = in.value("steps", json::array());
    if (steps.size() > kMostSteps)
        return Error{ErrorKind::InvalidArgument, "steps", "there are more than 2000"};
    for (size_t i = 0; i < steps.size(); ++i) {
        auto step = readAt("steps", i, [&] { return readStep(steps[i], reader, take); });
        if (!step)
            return step.error();
        keep.steps.push_back(std::move(*step));
    }
    keep.extraJson =
        extraOf(in, {"id", "name", "on", "strength", "specksPx", "holesPx", "softEdgePx",
                     "softEdgeFound", "spill", "growPx", "featherPx", "invert", "look", "steps"});
    return keep;
}

Result<Take> readTake(const json &in, MaskReader &reader)
{
    if (!in.is_object() || in.value("format", "") != "buttonhole-take")
        return Error{ErrorKind::InvalidArgument, "take",
                     R"(an object with "format": "buttonhole-take" is expected)"};
    if (wholeFrom(in, "readableFrom", 1) > kTakeVersion)
        return Error{ErrorKind::Newer, "take", "version " + in.value("version", json()).dump()};
    Take take;
    take.name = in.value("name", take.name);
    take.nextId = uint64_t(wholeFrom(in, "nextId", 1));
    const json grey = in.value("grey", json::object());
    take.greyOn = grey.value("on", true);
    auto mix = greyFromJson(grey, reader.notes);
    if (!mix)
        return mix.error();
    take.grey = std::move(*mix);
    take.greyExtraJson = extraOf(grey, {"on", "base", "blend", "hueCurve", "glass", "tone",
                                        "toning", "colourLeft", "look", "strength"});
    const json keeps = in.value("keeps", json::array());
    if (keeps.size() > kMostKeeps)
        return Error{ErrorKind::InvalidArgument, "keeps", "there are more than 500"};
    for (size_t i = 0; i < keeps.size(); ++i) {
        auto keep = readAt("keeps", i, [&] { return readKeep(keeps[i], reader, take); });
        if (!keep)
            return keep.error();
        take.keeps.push_back(std::move(*keep));
    }
    take.extraJson =
        extraOf(in, {"format", "version", "readableFrom", "name", "grey", "keeps", "nextId"});
    return take;
}

/// The first version knew no grey but luminance, the third no fuzz and no step that acts inside
/// another, the fourth no width found and no marks of spill, the fifth no step inverted. What
/// version a number came with, its row says.
int firstReader(const Take &take)
{
    const auto anyKeep = [&](auto &&isOne) {
        return std::any_of(take.keeps.begin(), take.keeps.end(), isOne);
    };
    const auto anyStep = [&](auto &&isOne) {
        return anyKeep([&](const Keep &keep) {
            return std::any_of(keep.steps.begin(), keep.steps.end(), isOne);
        });
    };
    if (anyStep([](const Step &step) { return step.invert; }))
        return 6;
    if (anyKeep([](const Keep &keep) { return keep.softEdgeFound; }) ||
        anyStep([](const Step &step) { return step.sign == Sign::Spill; }))
        return 5;
    int version = 1;
    if (!take.grey.isPlain() || take.grey.isTinted())
        version = std::max(2, neededVersion(take.grey, greyParams()));
    for (const Keep &keep : take.keeps)
        version = std::max(version, neededVersion(keep, keepParams()));
    if (anyStep([](const Step &step) {
            return step.insideOf != Step::kAnywhere || step.sign == Sign::Fuzz;
        }))
        version = std::max(version, 4);
    return version;
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
        one["invert"] = keep.invert;
        if (keep.softEdgeFound)
            one["softEdgeFound"] = true;
        paramsToJson(one, keep, keepParams());
        one["strength"] = keep.strength;
        one["steps"] = std::move(steps);
        keeps.push_back(std::move(one));
    }
    json out = startFrom(take.extraJson);
    out["format"] = "buttonhole-take";
    out["version"] = kTakeVersion;
    out["readableFrom"] = firstReader(take);
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
        return Error{ErrorKind::InvalidArgument, "take", inWords(problem)};
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
    const auto parsed = jsonFromText(text, subject);
    if (!parsed)
        return parsed.error();
    auto take = takeFromJson(*parsed, reader);
    notes.insert(notes.end(), reader.notes.begin(), reader.notes.end());
    if (!take) {
        Error error = take.error();
        error.detail = error.subject + ": " + error.detail;
        error.subject = subject;
        if (error.kind == ErrorKind::InvalidArgument)
            error.kind = ErrorKind::BadValue;
        return error;
    }
    return take;
}

} // namespace buttonhole
