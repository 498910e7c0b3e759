#include "job/deliver.h"

#include "export/mask_export.h"
#include "export/signed_mount.h"
#include "io/file.h"
#include "render/render.h"

#include <algorithm>
#include <filesystem>

namespace buttonhole
{

namespace
{

/// What is wide is taken from coarser levels; so is what lies under a signature.
bool looksFarAround(const Take &take)
{
    return !take.tones.empty() || looksAtGround(take) ||
           std::any_of(take.keeps.begin(), take.keeps.end(),
                       [](const Keep &keep) { return keep.glow.strength > 0; });
}

/// @param mayReplace a file of a mask's name is an older mask of the same picture
Result<void> writeMasksOf(const PhotoLevels &levels, const Take &take, bool mayReplace,
                          const OutputGuard &guard, Delivered &out, const Run &run)
{
    const std::filesystem::path picture(out.path);
    const std::string begin = (picture.parent_path() / picture.stem()).string();
    for (const Keep &keep : take.keeps) {
        if (!keep.on || (keep.steps.empty() && !keep.invert))
            continue;
        const std::string path = numberedPath(
            begin + "-" + fileNameFor(keep.name, {}) + ".png", [&](const std::string &each) {
                return std::count(out.masks.begin(), out.masks.end(), each) > 0 ||
                       (!mayReplace && stampOf(each).exists()) || isSameFile(each, out.path) ||
                       isSameFile(each, levels.photo().path) || guard.isProtected(each);
            });
        const Overwrite overwrite = mayReplace ? Overwrite::Yes : Overwrite::No;
        if (auto done = exportMask(levels, keep, 16, {path, overwrite}, run); !done)
            return done;
        out.masks.push_back(path);
    }
    return {};
}

} // namespace

bool needsLevels(const Take &take)
{
    bool out =
        (take.greyOn && take.grey.strength > 0 && take.grey.hasMargin()) || looksFarAround(take);
    take.visitMasks([&](const Mask &mask) { out = out || mask.needsLevels(); });
    return out;
}

Result<OpenedTake> openTake(const std::string &input, const std::string &name, bool isWhole,
                            const Run &run)
{
    auto opened = openPath(input, {}, run, [&](const Work &work, int, int) {
        const auto take = findTake(work, name);
        return isWhole || (take && needsLevels(**take));
    });
    if (!opened)
        return opened.error();
    auto take = findTake(opened->work, name);
    if (!take)
        return take.error();
    return OpenedTake{std::move(*opened), std::move(*take)};
}

ExportSettings settingsFor(const PhotoLevels &levels, const Take &take, const Delivery &delivery)
{
    ExportSettings out = delivery.picture;
    const auto [width, height] = exportedSize(take, pictureOf(levels, take).rect());
    out.longEdgePx = longEdgeFor(delivery.size, width, height);
    return out;
}

Result<Delivered> deliver(const PhotoLevels &levels, Take take, const std::vector<Preset> &presets,
                          bool placesAll, const Delivery &delivery, const OutputPath &path,
                          const Run &run, const OutputGuard &guard)
{
    Delivered out;
    out.path = path.path;
    if (auto fine = guard.check(out.path); !fine)
        return fine.error();
    const bool replaces = path.overwrite == Overwrite::Yes && stampOf(out.path).exists();
    for (const Preset &preset : presets) {
        auto made = withPresetOn(std::move(take), preset, levels, placesAll, out.carried, run);
        if (!made)
            return made.error();
        take = std::move(*made);
    }
    const auto written =
        exportPicture(levels, take, settingsFor(levels, take, delivery), path, run);
    if (!written)
        return written.error();
    out.width = written->width;
    out.height = written->height;
    out.bytes = written->bytes;
    if (delivery.masks)
        if (auto done = writeMasksOf(levels, take, replaces, guard, out, run); !done)
            return done.error();
    return out;
}

Result<Delivered> deliverFile(const std::string &input, const std::string &take,
                              const std::vector<Preset> &presets, bool placesAll,
                              const Delivery &delivery, const OutputPath &path, const Run &run,
                              OutputGuard guard)
{
    const FileStamp before = stampOf(input);
    const auto from = openTake(input, take, !presets.empty(), run);
    if (!from)
        return from.error();
    std::vector<std::pair<std::string, FileStamp>> read;
    for (const std::string &each : from->opened.inputs) {
        guard.protect(each);
        read.emplace_back(each, each == input ? before : from->opened.photo().stamp);
    }
    auto out =
        deliver(*from->opened.levels, *from->take, presets, placesAll, delivery, path, run, guard);
    if (out) {
        out->notes = from->opened.notes;
        out->read = std::move(read);
    }
    return out;
}

} // namespace buttonhole
