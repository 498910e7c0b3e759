#include "remove.h"

#include "document/mask_import.h"
#include "export/export.h"
#include "io/file.h"
#include "job/opened.h"

namespace buttonhole::cli
{

namespace
{

/// What is to go: by a picture, or by the mask of a keep.
Result<Removal> asked(const RemoveArguments &arguments, const Take &take, const Photo &photo)
{
    Removal out;
    if (!arguments.mask.empty()) {
        auto shape = loadMaskPicture(arguments.mask, photo.width, photo.height);
        if (!shape)
            return shape.error();
        out.steps.push_back({0, Sign::Add, true, std::move(*shape)});
    } else {
        const Keep *keep = take.findKeep(arguments.keep);
        if (!keep)
            return Error{ErrorKind::NotFound, "keep \"" + arguments.keep + "\"",
                         "name a keep with --keep, or give its mask with --mask"};
        static_cast<Mask &>(out) = *keep;
    }
    out.growPx = std::min(out.growPx + float(arguments.growPx), kMostGrowPx);
    out.tries = float(arguments.attempt);
    if (const auto &from = arguments.source; from.size() == 4)
        out.source = {from[0], from[1], from[0] + from[2], from[1] + from[3]};
    return out;
}

Result<void> writePicture(const PhotoLevels &levels, const Take &filled,
                          const RemoveArguments &arguments, const Run &run)
{
    Take plain = makeTake();
    plain.greyOn = false;
    plain.keeps.clear();
    plain.removals = filled.removals;
    ExportSettings settings;
    const auto format = formatFromPath(arguments.out);
    if (!format)
        return format.error();
    settings.format = *format;
    settings.bits = *format == ExportSettings::Format::Jpeg ? 8 : levels.photo().bitDepth();
    const auto done = exportPicture(levels, plain, settings, arguments.out, run);
    return done ? Result<void>() : done.error();
}

Result<void> removeIn(const Opened &opened, const Take &take, const RemoveArguments &arguments,
                      const OutputOptions &options)
{
    const PhotoLevels &levels = *opened.levels;
    auto removal = asked(arguments, take, opened.photo());
    if (!removal)
        return removal.error();
    uint64_t id = 0;
    Take filledTake = withNewRemoval(take, std::move(*removal), &id);
    auto made = filled(levels, filledTake, id, makeRun("Filling", options));
    if (!made)
        return made.error();
    filledTake = withRemoval(std::move(filledTake), id, [&](Removal &each) { each = *made; });
    if (!isContainerPath(arguments.out))
        return writePicture(levels, filledTake, arguments, makeRun("Writing", options));
    std::vector<std::string> notes;
    auto saved =
        saveAs(arguments.out, opened, filledTake, levels, notes, makeRun("Saving", options));
    printNotes(notes, options);
    return saved;
}

} // namespace

int remove(const RemoveArguments &arguments, const OutputOptions &options)
{
    const auto opened =
        openPath(arguments.file, arguments.photo, makeRun("Reading", options), needsAllLevels);
    if (!opened)
        return fail(opened.error(), options);
    std::vector<std::string> inputs = opened->inputs;
    if (!arguments.mask.empty())
        inputs.push_back(arguments.mask);
    if (const auto fine = checkOutputs({arguments.out}, inputs); !fine)
        return fail(fine.error(), options);
    const auto take = findTake(opened->work, arguments.take);
    if (!take)
        return fail(take.error(), options);
    if (auto done = removeIn(*opened, **take, arguments, options); !done)
        return fail(done.error(), options);
    endProgress(options);
    printNotes(opened->notes, options);
    return Ok;
}

} // namespace buttonhole::cli
