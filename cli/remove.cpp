#include "remove.h"

#include "clean/fill_hole.h"
#include "document/mask_import.h"
#include "export/export.h"
#include "io/file.h"
#include "io/photo_with_light.h"
#include "opened.h"
#include "raster/parallel_tiles.h"
#include "render/mask_stage.h"

namespace buttonhole::cli
{

namespace
{

/// The keep whose mask says what goes, larger by what was asked for.
Result<Keep> markedKeep(const RemoveArguments &arguments, const Take &take, const Photo &photo)
{
    Keep out;
    if (!arguments.mask.empty()) {
        auto shape = loadMaskPicture(arguments.mask, photo.width, photo.height);
        if (!shape)
            return shape.error();
        Take made = makeTake();
        made = withNewStep(made, made.keeps[0].id, Sign::Add, std::move(*shape));
        out = made.keeps[0];
    } else {
        const Keep *keep = take.findKeep(arguments.keep);
        if (!keep)
            return Error{ErrorKind::NotFound, "keep \"" + arguments.keep + "\"",
                         "name a keep with --keep, or give its mask with --mask"};
        out = *keep;
    }
    out.strength = 1;
    out.growPx = std::min(out.growPx + float(arguments.growPx), 300.0F);
    return out;
}

struct Hole {
    Rect area;
    std::vector<uint8_t> inside;
};

/// Where a mask covers more than nearly nothing.
Hole holeOf(const PhotoLevels &levels, const Keep &keep)
{
    const Rect all = levels.photo().rect();
    std::vector<uint8_t> marked(all.area());
    parallelTiles(all, [&](const Rect &tile) {
        std::vector<uint16_t> mask(tile.area());
        keepMaskOver(levels, keep, 0, tile, mask.data(), nullptr);
        constexpr uint16_t kNearlyNothing = 0x1000;
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                marked[size_t(y) * size_t(all.width()) + size_t(x)] =
                    mask[size_t(y - tile.y0) * size_t(tile.width()) + size_t(x - tile.x0)] >
                            kNearlyNothing
                        ? 1
                        : 0;
    });
    Hole out;
    for (int y = 0; y < all.y1; ++y)
        for (int x = 0; x < all.x1; ++x)
            if (marked[size_t(y) * size_t(all.width()) + size_t(x)])
                out.area = united(out.area, {x, y, x + 1, y + 1});
    for (int y = out.area.y0; y < out.area.y1; ++y) {
        const auto row = marked.begin() + ptrdiff_t(y) * all.width();
        out.inside.insert(out.inside.end(), row + out.area.x0, row + out.area.x1);
    }
    return out;
}

Result<void> removeIn(const Opened &opened, const Take &take, const RemoveArguments &arguments,
                      const OutputOptions &options)
{
    const auto levels = PhotoLevels::make(opened.photo);
    if (!levels)
        return levels.error();
    const auto keep = markedKeep(arguments, take, *opened.photo);
    if (!keep)
        return keep.error();
    const Hole hole = holeOf(**levels, *keep);
    if (hole.area.isEmpty())
        return Error{ErrorKind::InvalidArgument, opened.photo->path, "the mask covers nothing"};
    FillOptions filling;
    filling.attempt = uint32_t(arguments.attempt);
    if (const auto &from = arguments.source; from.size() == 4)
        filling.source = {from[0], from[1], from[0] + from[2], from[1] + from[3]};
    const auto light =
        fillHole(**levels, hole.area, hole.inside, filling, makeRun("Filling", options));
    if (!light)
        return light.error();
    const auto filled = PhotoLevels::makeFlat(withLight(*opened.photo, *light, hole.inside));
    Take plain = makeTake();
    plain.greyOn = false;
    plain.keeps.clear();
    ExportSettings settings;
    const auto format = formatFromPath(arguments.out);
    if (!format)
        return format.error();
    settings.format = *format;
    settings.bits = *format == ExportSettings::Format::Jpeg ? 8 : opened.photo->bitDepth();
    const auto done =
        exportPicture(*filled, plain, settings, arguments.out, makeRun("Writing", options));
    return done ? Result<void>() : done.error();
}

} // namespace

int remove(const RemoveArguments &arguments, const OutputOptions &options)
{
    const auto opened = open(arguments.file, arguments.photo, makeRun("Reading", options));
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
