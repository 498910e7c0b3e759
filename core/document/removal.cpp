#include "document/removal.h"

#include "clean/fill_hole.h"
#include "document/take.h"
#include "io/photo_with_light.h"
#include "raster/parallel_tiles.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

struct Hole {
    Rect area;
    std::vector<uint8_t> inside; ///< row by row over it
};

/// Where a mask covers more than nearly nothing.
Hole holeOf(const PhotoLevels &levels, const Mask &mask)
{
    const Rect all = levels.photo().rect();
    const auto width = size_t(all.width());
    std::vector<uint8_t> marked(all.area());
    parallelTiles(all, [&](const Rect &tile) {
        std::vector<uint16_t> values(tile.area());
        fullMask(levels, mask, 0, tile, values.data());
        constexpr uint16_t kNearlyNothing = 0x1000;
        const uint16_t *value = values.data();
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                marked[size_t(y) * width + size_t(x)] = *value++ > kNearlyNothing;
    });
    Hole out;
    for (int y = 0; y < all.y1; ++y)
        for (int x = 0; x < all.x1; ++x)
            if (marked[size_t(y) * width + size_t(x)])
                out.area = united(out.area, {x, y, x + 1, y + 1});
    for (int y = out.area.y0; y < out.area.y1; ++y) {
        const auto row = marked.begin() + ptrdiff_t(size_t(y) * width);
        out.inside.insert(out.inside.end(), row + out.area.x0, row + out.area.x1);
    }
    return out;
}

/// The photo as the removals before one leave it.
Result<std::shared_ptr<const PhotoLevels>> before(const PhotoLevels &levels, const Take &take,
                                                  uint64_t removalId, const Run &run)
{
    std::shared_ptr<const PhotoLevels> out;
    for (const Removal &each : take.removals) {
        if (each.id == removalId)
            break;
        if (!each.on || !each.patch)
            continue;
        const PhotoLevels &now = out ? *out : levels;
        const Rect area = each.patch->where.boundsOfOtherThan(0);
        LightTile light(area);
        const auto shown =
            patched(std::make_shared<const PhotoSource>(now), each.patch, each.strength);
        if (auto done = shown->read(0, light, run); !done)
            return done.error();
        out = PhotoLevels::makeFlat(
            withLight(now.photo(), light, std::vector<uint8_t>(area.area(), 1)));
    }
    return out;
}

} // namespace

bool Removal::isStale() const
{
    return patch && filledFor != askedBy(*this);
}

std::span<const Param<Removal>> removalParams()
{
    static constexpr Param<Removal> kOwn[] = {
        {"tries", [](Removal &r) -> float & { return r.tries; }, 0, Removal::kMostTries, 10}};
    static constexpr auto kRows = joinedRows(kOwn, maskedLineRows<Removal>());
    return kRows;
}

uint64_t askedBy(const Removal &removal)
{
    const auto &[x0, y0, x1, y1] = removal.source;
    return joinedContent(shapedContent(removal),
                         {removal.tries, float(x0), float(y0), float(x1), float(y1)});
}

Result<Removal> filled(const PhotoLevels &levels, const Take &take, uint64_t removalId,
                       const Run &run)
{
    const Removal *found = take.findRemoval(removalId);
    if (!found)
        return Error{ErrorKind::NotFound, "removal", {}};
    Removal out = *found;
    const Hole hole = holeOf(levels, out);
    if (hole.area.isEmpty())
        return Error{ErrorKind::InvalidArgument, out.name,
                     "its mask covers nothing yet: mark what is to go"};
    const auto under = before(levels, take, removalId, run);
    if (!under)
        return under.error();
    const auto light = fillHole(*under ? **under : levels, hole.area, hole.inside,
                                {uint32_t(out.tries), out.source}, run);
    if (!light)
        return light.error();
    out.patch = makePatch(levels.photo().rect(), *light, hole.inside);
    out.filledFor = askedBy(out);
    return out;
}

} // namespace buttonhole
