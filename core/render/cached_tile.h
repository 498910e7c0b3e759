#pragma once

#include "base/rect.h"
#include "raster/tile_pool.h"
#include "render/stage_cache.h"

namespace buttonhole
{

/// A stage's tile out of the cache, or nothing.
struct CachedTile {
    StageCache::Values values;
    Rect tile;

    const uint16_t *row(int y, const Rect &area) const
    {
        return values
                   ? values.get() + size_t(y - tile.y0) * size_t(tile.width()) + (area.x0 - tile.x0)
                   : nullptr;
    }
};

/// Pixels of one tile of the grid that lie in the picture.
inline Rect tileRect(int tx, int ty, const Rect &picture)
{
    return intersected(
        picture, {tx * kTileSize, ty * kTileSize, (tx + 1) * kTileSize, (ty + 1) * kTileSize});
}

/// Finds the tile that `area` lies in; makes and keeps it if it is not there and `mayMake`.
/// @param make called with the tile and where its values go
template <class Make>
CachedTile cachedTile(StageCache &cache, StageCache::Stage stage, uint64_t content, int level,
                      const Rect &area, const Rect &picture, bool mayMake, const Make &make)
{
    const StageCache::Key key{stage, content, level, area.x0 / kTileSize, area.y0 / kTileSize};
    const Rect tile = tileRect(key.tx, key.ty, picture);
    CachedTile out{cache.find(key), tile};
    if (!out.values && mayMake) {
        auto values = takeTilePixels();
        make(tile, values.get());
        out.values = cache.put(key, std::move(values), tile.area());
    }
    return out;
}

/// A part alone (under the brush) is not worth making the whole tile.
inline bool isWholeTile(const Rect &area, const Rect &picture)
{
    return tileRect(area.x0 / kTileSize, area.y0 / kTileSize, picture) == area;
}

} // namespace buttonhole
