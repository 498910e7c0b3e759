#include "changes.h"

#include "document/finish_starts.h"
#include "document/preset_store.h"
#include "document/same_again.h"
#include "document/set_param.h"
#include "document/tone_starts.h"
#include "io/file.h"
#include "job/deliver.h"
#include "lettering/lettering.h"
#include "light/signature.h"
#include "render/auto_grey.h"
#include "tone/looks.h"

#include <algorithm>
#include <cmath>

namespace buttonhole::cli
{

namespace
{

Result<void> changeGeometry(Geometry &geometry, const ChangeArguments &arguments,
                            const Photo &photo)
{
    if (arguments.quarterTurns >= 0)
        geometry.quarterTurns = arguments.quarterTurns;
    if (arguments.mirrors)
        geometry.isMirrored = *arguments.mirrors;
    if (const auto &crop = arguments.crop; crop.size() == 4) {
        const std::string size = std::to_string(photo.width) + " x " + std::to_string(photo.height);
        const bool isInside = crop[0] >= 0 && crop[1] >= 0 && crop[2] > 0 && crop[3] > 0 &&
                              crop[2] <= photo.width - crop[0] && crop[3] <= photo.height - crop[1];
        if (!isInside)
            return Error{ErrorKind::InvalidArgument, "--crop",
                         "a part of the photo's " + size + " px is expected"};
        geometry.crop = {crop[0], crop[1], crop[0] + crop[2], crop[1] + crop[3]};
    }
    if (const auto &size = arguments.deliver; size.size() == 2) {
        geometry.deliverWidth = size[0];
        geometry.deliverHeight = size[1];
    }
    return check(geometry);
}

/// With a local tone as "START" or "START:KEEP" says; without a keep's name, by the last one.
Result<Take> withLocal(Take take, const PhotoLevels &levels, const std::string &asked)
{
    const size_t colon = asked.find(':');
    const std::string name = colon == std::string::npos ? "" : asked.substr(colon + 1);
    if (!name.empty())
        if (const auto named = keepNamed(take, name); !named)
            return named.error();
    const Keep *keep = !name.empty()        ? take.findKeep(name)
                       : take.keeps.empty() ? nullptr
                                            : &take.keeps.back();
    const std::optional<Keep> own = keep ? std::optional(*keep) : std::nullopt;
    return withToneStart(std::move(take), levels, asked.substr(0, colon), own ? &*own : nullptr);
}

Result<Take> withPresetNamed(Take take, const std::string &name, bool placesAll,
                             const PhotoLevels &levels, const OutputOptions &options)
{
    const auto preset = presetNamed(name, options);
    if (!preset)
        return preset.error();
    CarryReport report;
    auto made = withPresetOn(std::move(take), *preset, levels, placesAll, report,
                             makeRun("Looking", options));
    if (!made)
        return made;
    std::vector<std::string> notes;
    for (const CarriedStep &step : report.steps)
        if (step.how == CarriedStep::How::LeftOut || step.how == CarriedStep::How::NotFound)
            notes.push_back(levels.photo().path + ": " + step.line + ", " + step.kind + ": " +
                            std::string(toWord(step.how)));
    for (const CarriedLine &line : report.lines)
        notes.push_back(levels.photo().path + ": " + line.name + ": " +
                        std::to_string(int(std::lround(line.sure * 100))) + " % like before");
    if (report.wantsALook())
        notes.push_back(levels.photo().path + ": its masks want a look");
    printNotes(notes, options);
    return made;
}

/// With a signature of that text or file.
Result<Take> withSigned(Take take, const ChangeArguments &arguments)
{
    if (arguments.sign.empty() && arguments.signWith.empty())
        return take;
    SignatureWords words{arguments.sign, arguments.signFont, {}};
    if (!arguments.signWith.empty()) {
        const auto bytes = readStream(arguments.signWith, Signature::kMostDrawing);
        if (!bytes)
            return bytes.error();
        words.drawing.assign(bytes->begin(), bytes->end());
        if (const auto drawing = drawingOfPicture(words.drawing); !drawing)
            return Error{drawing.error().kind, arguments.signWith, drawing.error().detail};
    }
    if (auto fine = checkWords(words); !fine)
        return Error{fine.error().kind, "the signature", fine.error().detail};
    return withSignature(std::move(take), std::move(words));
}

} // namespace

bool needsLevels(const Take &take, const ChangeArguments &change)
{
    Take made = take;
    if (const Look *look = findLook(change.look)) {
        made.grey = look->mix;
        made.grey.strength = float(change.strength / 100);
    }
    for (const std::string &set : change.sets) // what cannot be set is told later
        if (auto changed = withParam(made, set))
            made = std::move(*changed);
    return buttonhole::needsLevels(made) || change.finds || change.find.light ||
           change.find.straightens || change.find.spots || !change.find.lens.empty() ||
           !change.locals.empty() || !change.presets.empty();
}

Result<Preset> presetNamed(const std::string &name, const OutputOptions &options)
{
    if (endingOf(name) == ".json") {
        std::vector<std::string> notes;
        auto read = readPresetFile(name, notes);
        printNotes(notes, options);
        return read;
    }
    auto stored = PresetStore::system().find(name);
    if (!stored)
        return stored.error();
    printNotes(stored->notes, options);
    return std::move(stored->preset);
}

Result<const Keep *> keepNamed(const Take &take, const std::string &name)
{
    if (const Keep *keep = take.findKeep(name))
        return keep;
    std::string known;
    for (const Keep &each : take.keeps)
        known += (known.empty() ? "" : ", ") + each.name;
    return Error{ErrorKind::NotFound, "keep \"" + name + "\"", "there are: " + known};
}

Result<Take> withChanges(Take take, const ChangeArguments &arguments, const PhotoLevels &levels,
                         const OutputOptions &options)
{
    if (!arguments.look.empty()) {
        const Look *look = findLook(arguments.look);
        if (!look) {
            std::string known;
            for (const Look &each : buttonhole::looks())
                known += (known.empty() ? "" : ", ") + each.name;
            return Error{ErrorKind::NotFound, "look \"" + arguments.look + "\"",
                         "there are: " + known};
        }
        take.grey = look->mix;
        take.grey.strength = float(arguments.strength / 100);
    }
    if (arguments.finds)
        take.grey = findAutoMix(levels, take);
    std::vector<std::string> notes;
    auto prepared =
        withFindings(std::move(take), levels, arguments.find, notes, makeRun("Looking", options));
    printNotes(notes, options);
    if (!prepared)
        return prepared.error();
    take = std::move(*prepared);
    for (const std::string &each : arguments.presets) {
        auto changed = withPresetNamed(std::move(take), each, arguments.placesAll, levels, options);
        if (!changed)
            return changed.error();
        take = std::move(*changed);
    }
    for (const std::string &each : arguments.locals) {
        auto changed = withLocal(std::move(take), levels, each);
        if (!changed)
            return changed.error();
        take = std::move(*changed);
    }
    for (const std::string &each : arguments.ends) {
        auto changed = withFinishStart(std::move(take), each);
        if (!changed)
            return changed.error();
        take = std::move(*changed);
    }
    if (auto changed = withSigned(std::move(take), arguments); !changed)
        return changed.error();
    else
        take = std::move(*changed);
    for (const std::string &each : arguments.sets) {
        auto changed = withParam(std::move(take), each);
        if (!changed)
            return changed.error();
        take = std::move(*changed);
    }
    if (auto fine = check(take.grey); !fine)
        return fine.error();
    if (auto done = changeGeometry(take.geometry, arguments, levels.photo()); !done)
        return done.error();
    return take;
}

Result<ChangedTake> openChanged(const std::string &file, const std::string &photo,
                                const std::string &take, const ChangeArguments &change,
                                const std::vector<std::string> &outputs, bool isWhole,
                                const OutputOptions &options)
{
    auto opened =
        openPath(file, photo, makeRun("Reading", options), [&](const Work &work, int, int) {
            const auto chosen = findTake(work, take);
            return isWhole || (chosen && needsLevels(**chosen, change));
        });
    if (!opened)
        return opened.error();
    if (const auto fine = checkOutputs(outputs, opened->inputs); !fine)
        return fine.error();
    const auto chosen = findTake(opened->work, take);
    if (!chosen)
        return chosen.error();
    auto changed = withChanges(**chosen, change, *opened->levels, options);
    if (!changed)
        return changed.error();
    return ChangedTake{std::move(*opened), std::move(*changed)};
}

} // namespace buttonhole::cli
