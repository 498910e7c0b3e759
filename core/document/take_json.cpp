#include "document/take_json.h"

#include "base/param_json.h"
#include "document/geometry_json.h"
#include "document/grey_json.h"
#include "document/json_text.h"
#include "document/mask_entries.h"

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
constexpr size_t kMostKeeps = 500;        // each costs memory, whatever it holds
constexpr size_t kMostStepsOfMask = 2000; // in a mask
constexpr size_t kMostTones = 500;
constexpr size_t kMostAdjustments = 100; // in a row
constexpr size_t kMostRemovals = 200;
constexpr std::array<const char *, 3> kChannels = {"red", "green", "blue"};
// The versions that brought what is no number of a row. Version 1 knew no grey but luminance.
constexpr int kGreySince = 2;
constexpr int kInsideOfSince = 4; // and fuzz
constexpr int kFoundEdgeSince = 5;
constexpr int kSpillSince = 5;
constexpr int kInvertedStepSince = 6;
constexpr int kLocalTonesSince = 7; // and prepare and finish
constexpr int kGeometrySince = 8;
constexpr int kRemovalsSince = 10;
constexpr int kDeliverSince = 10;
constexpr int kActsOnSince = 10;

/// @param owner names the rasters: "keep-3"
json stepToJson(const Step &step, const std::string &owner, MaskWriter *writer)
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
    step.shape->toJson(out, writer, owner + "-step-" + std::to_string(step.id));
    return out;
}

/// What lines that act by a mask have in common. @param owner names the rasters
template <class T>
json maskedLineToJson(const T &line, std::span<const Param<T>> rows, const std::string &owner,
                      MaskWriter *writer)
{
    json out = startFrom(line.extraJson);
    out["id"] = line.id;
    out["name"] = line.name;
    out["on"] = line.on;
    out["invert"] = line.invert;
    if (line.softEdgeFound)
        out["softEdgeFound"] = true;
    paramsToJson(out, line, rows);
    out["strength"] = line.strength;
    out["steps"] = json::array();
    for (const Step &step : line.steps)
        out["steps"].push_back(stepToJson(step, owner + std::to_string(line.id), writer));
    return out;
}

json lineToJson(const AdjustmentLine &line)
{
    json out;
    adjustmentToJson(out, *line.adjustment);
    out["id"] = line.id;
    out["on"] = line.on;
    return out;
}

json removalToJson(const Removal &removal, MaskWriter *writer)
{
    json out = maskedLineToJson(removal, removalParams(), "removal-", writer);
    if (!removal.source.isEmpty())
        out["source"] = rectToJson(removal.source);
    if (!removal.patch || !writer) // a take alone brings no rasters
        return out;
    const std::string name = "removal-" + std::to_string(removal.id) + "-patch";
    writer->startShape(removal.patch->content);
    json &patch = out["patch"];
    patch["where"] = writer->put(name + "-where", removal.patch->where, 0);
    for (size_t c = 0; c < 3; ++c)
        patch[kChannels[c]] = writer->put(name + "-" + kChannels[c], removal.patch->roots[c], 0);
    if (removal.isStale())
        patch["stale"] = true;
    return out;
}

json toneToJson(const LocalTone &tone, MaskWriter *writer)
{
    json out = maskedLineToJson(tone, localToneParams(), "tone-", writer);
    if (tone.actsOn != ActsOn::All)
        out["actsOn"] = toWord(tone.actsOn);
    out["effects"] = json::array();
    for (const AdjustmentRef &effect : tone.effects) {
        json one;
        adjustmentToJson(one, *effect);
        out["effects"].push_back(std::move(one));
    }
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

/// The next free id, or the one that is noted, which is not free from now on.
uint64_t idFrom(const json &in, Take &take)
{
    const auto id = uint64_t(wholeFrom(in, "id", int64_t(take.nextId)));
    take.nextId = std::max(take.nextId, id + 1);
    return id;
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
    step.id = idFrom(in, take);
    step.sign = *sign;
    step.on = in.value("on", true);
    step.invert = in.value("invert", false);
    if (const auto inside = in.find("insideOf"); inside != in.end())
        step.insideOf = *inside == kWhatIsThere ? Step::kWhatIsThere : uint64_t(wholeFrom(*inside));
    step.shape = std::move(*shape);
    return step;
}

/// Reads a list that may be left out. @param read one of it, from its JSON
template <typename Read>
Result<void> readList(const json &in, const char *name, size_t most, const Read &read)
{
    const json list = in.value(name, json::array());
    if (list.size() > most)
        return Error{ErrorKind::InvalidArgument, name,
                     "there are more than " + std::to_string(most)};
    for (size_t i = 0; i < list.size(); ++i)
        if (auto done = readAt(name, i, [&] { return read(list[i]); }); !done)
            return done;
    return {};
}

/// What lines that act by a mask have in common.
/// @param name  of one that brings none
/// @param other its members beside its numbers and what all such lines have
template <class T>
Result<T> readMaskedLine(const json &in, std::span<const Param<T>> rows, const std::string &name,
                         std::initializer_list<const char *> other, MaskReader &reader, Take &take)
{
    T line;
    line.id = idFrom(in, take);
    line.name = in.value("name", name);
    line.on = in.value("on", true);
    line.invert = in.value("invert", false);
    line.softEdgeFound = in.value("softEdgeFound", false);
    if (auto fine = paramsFromJson(in, line, rows); !fine)
        return fine.error();
    auto steps = readList(in, "steps", kMostStepsOfMask, [&](const json &one) -> Result<void> {
        auto step = readStep(one, reader, take);
        if (!step)
            return step.error();
        line.steps.push_back(std::move(*step));
        return {};
    });
    if (!steps)
        return steps.error();
    json extra = in;
    for (const char *own : {"id", "name", "on", "invert", "softEdgeFound", "steps"})
        extra.erase(own);
    for (const Param<T> &row : rows)
        eraseMember(extra, row.id);
    line.extraJson = extraOf(std::move(extra), other);
    return line;
}

Result<void> readKeep(const json &in, MaskReader &reader, Take &take)
{
    auto keep = readMaskedLine(in, keepParams(), "Keep " + std::to_string(take.keeps.size() + 1),
                               {}, reader, take);
    if (!keep)
        return keep.error();
    take.keeps.push_back(std::move(*keep));
    return {};
}

Result<void> readTone(const json &in, MaskReader &reader, Take &take)
{
    auto tone =
        readMaskedLine(in, localToneParams(), "Local " + std::to_string(take.tones.size() + 1),
                       {"actsOn", "effects"}, reader, take);
    if (!tone)
        return tone.error();
    const auto actsOn = actsOnFromWord(in.value("actsOn", "all"));
    if (!actsOn)
        return actsOn.error();
    tone->actsOn = *actsOn;
    auto effects = readList(in, "effects", kMostAdjustments, [&](const json &one) -> Result<void> {
        auto effect = adjustmentFromJson(one, reader.notes);
        if (!effect)
            return effect.error();
        tone->effects.push_back(std::move(*effect));
        return {};
    });
    if (!effects)
        return effects;
    take.tones.push_back(std::move(*tone));
    return {};
}

Result<void> readPatch(const json &in, MaskReader &reader, Removal &out)
{
    auto patch = std::make_shared<Patch>();
    for (size_t c = 0; c < 4; ++c) {
        auto plane = reader.get(in.at(c < 3 ? kChannels[c] : "where"));
        if (!plane)
            return plane.error();
        (c < 3 ? patch->roots[c] : patch->where) = std::move(*plane);
    }
    out.patch = std::move(patch);
    out.filledFor = in.value("stale", false) ? 0 : askedBy(out);
    return {};
}

Result<void> readRemoval(const json &in, MaskReader &reader, Take &take)
{
    auto removal =
        readMaskedLine(in, removalParams(), "Removal " + std::to_string(take.removals.size() + 1),
                       {"source", "patch"}, reader, take);
    if (!removal)
        return removal.error();
    if (const auto source = in.find("source"); source != in.end()) {
        removal->source = rectFromJson(*source);
        if (removal->source.isEmpty())
            return Error{ErrorKind::InvalidArgument, "source", "a part of the photo is expected"};
    }
    if (const auto patch = in.find("patch"); patch != in.end())
        if (auto done = readPatch(*patch, reader, *removal); !done)
            return done;
    take.removals.push_back(std::move(*removal));
    return {};
}

Result<void> readLines(const json &in, const char *name, MaskReader &reader, Take &take,
                       std::vector<AdjustmentLine> &out)
{
    return readList(in, name, kMostAdjustments, [&](const json &one) -> Result<void> {
        auto adjustment = adjustmentFromJson(one, reader.notes);
        if (!adjustment)
            return adjustment.error();
        out.push_back({idFrom(one, take), one.value("on", true), std::move(*adjustment)});
        return {};
    });
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
    Result<void> done = readList(in, "removals", kMostRemovals,
                                 [&](const json &one) { return readRemoval(one, reader, take); });
    if (done)
        done = readLines(in, "prepare", reader, take, take.prepare);
    if (done)
        done = readList(in, "keeps", kMostKeeps,
                        [&](const json &one) { return readKeep(one, reader, take); });
    if (done)
        done = readList(in, "tones", kMostTones,
                        [&](const json &one) { return readTone(one, reader, take); });
    if (done)
        done = readLines(in, "finish", reader, take, take.finish);
    if (const auto member = in.find("geometry"); done && member != in.end()) {
        auto geometry = geometryFromJson(*member, reader);
        if (!geometry)
            return geometry.error();
        take.geometry = *geometry;
        take.geometryExtraJson =
            extraOf(*member, {"crop", "deliver", "mirrored", "quarterTurns", "straighten"});
    }
    if (!done)
        return done.error();
    take.extraJson =
        extraOf(in, {"format", "version", "readableFrom", "name", "removals", "prepare", "grey",
                     "keeps", "tones", "geometry", "finish", "nextId"});
    return take;
}

/// Of what has numbers by a table: the first version that knew its kind and all that is set.
template <class Kind, class T>
int neededVersion(const Kind *kind, const T &what)
{
    int version = 1;
    for (size_t i = 0; kind && i < kind->numbers.size(); ++i)
        if (what.number(i) != kind->numbers[i].initial)
            version = std::max(version, kind->numbers[i].since);
    return version;
}

/// One that is not understood asks for no more.
int neededVersion(const Adjustment &adjustment)
{
    const AdjustmentKind *kind = adjustmentKinds().find(adjustment.kind());
    return kind ? std::max(kind->since, neededVersion(kind, adjustment)) : 1;
}

int neededVersion(const Step &step)
{
    int version = neededVersion(stepKinds().find(step.shape->kind()), *step.shape);
    if (step.insideOf != Step::kAnywhere || step.sign == Sign::Fuzz)
        version = std::max(version, kInsideOfSince);
    if (step.sign == Sign::Spill)
        version = std::max(version, kSpillSince);
    if (step.invert)
        version = std::max(version, kInvertedStepSince);
    return version;
}

template <class T>
int neededVersion(const T &line, std::span<const Param<T>> rows, int since)
{
    int version = std::max(since, neededVersion(line, rows));
    if (line.softEdgeFound)
        version = std::max(version, kFoundEdgeSince);
    for (const Step &step : line.steps)
        version = std::max(version, neededVersion(step));
    return version;
}

/// The first version that understands all of a take: the highest that any part of it asks for.
int firstReader(const Take &take)
{
    int version = 1;
    const auto need = [&](int least) { version = std::max(version, least); };
    if (!take.grey.isPlain() || take.grey.isTinted())
        need(std::max(kGreySince, neededVersion(take.grey, greyParams())));
    for (const Keep &keep : take.keeps)
        need(neededVersion(keep, keepParams(), 1));
    for (const LocalTone &tone : take.tones) {
        need(neededVersion(tone, localToneParams(), kLocalTonesSince));
        need(tone.actsOn == ActsOn::All ? 1 : kActsOnSince);
        for (const AdjustmentRef &effect : tone.effects)
            need(neededVersion(*effect));
    }
    for (const Removal &removal : take.removals)
        need(neededVersion(removal, removalParams(), kRemovalsSince));
    for (const auto *lines : {&take.prepare, &take.finish})
        for (const AdjustmentLine &line : *lines)
            need(std::max(kLocalTonesSince, neededVersion(*line.adjustment)));
    if (!take.geometry.isPlain()) {
        need(kGeometrySince);
        need(take.geometry.deliverWidth > 0 ? kDeliverSince : 1);
        need(neededVersion(take.geometry.straightening, Straightening::rows()));
    }
    return version;
}

} // namespace

json takeToJson(const Take &take, MaskWriter *writer)
{
    json keeps = json::array();
    for (const Keep &keep : take.keeps)
        keeps.push_back(maskedLineToJson(keep, keepParams(), "keep-", writer));
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
    for (const Removal &removal : take.removals)
        out["removals"].push_back(removalToJson(removal, writer));
    for (const AdjustmentLine &line : take.prepare)
        out["prepare"].push_back(lineToJson(line));
    for (const LocalTone &tone : take.tones)
        out["tones"].push_back(toneToJson(tone, writer));
    if (!take.geometry.isPlain() || !take.geometryExtraJson.empty()) {
        out["geometry"] = startFrom(take.geometryExtraJson);
        out["geometry"].update(geometryToJson(take.geometry));
    }
    for (const AdjustmentLine &line : take.finish)
        out["finish"].push_back(lineToJson(line));
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
        Result<MaskPlane> get(const json &reference) override
        {
            if (!reference.contains("file"))
                return MaskPlane(width, height, outsideOf(reference));
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
