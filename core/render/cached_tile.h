#pragma once

#include "base/rect.h"
#include "raster/parallel_tiles.h"
#include "raster/tile_pool.h"
#include "render/stage_cache.h"

namespace buttonhole
{

/// A tile's part of the picture, row by row without gaps, in memory of takeTilePixels().
using TileValues = std::shared_ptr<const uint16_t[]>;

/// What a tile of values is: joined with the content of what it was made from.
enum class TileKind : uint64_t {
    Grey = 0x6E41, ///< square roots of the linear grey
    FoldedMask,    ///< a mask's steps folded
    ShapedMask,    ///< the same grown, feathered and inverted; before strength
};

/// Keeps a tile of n values. @return what to read from now on: where all are 0 or all 65535, as
/// most of a mask is, one tile that all such share, which takes no room.
TileValues putTile(StageCache &cache, const StageCache::Key &key, TileValues values, size_t n);

/// A stage's tile out of the cache, or nothing.
struct CachedTile {
    TileValues values;
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
CachedTile cachedTile(StageCache &cache, TileKind kind, uint64_t content, int level,
                      const Rect &area, const Rect &picture, bool mayMake, const Make &make)
{
    const StageCache::Key key{joinedContent(content, uint64_t(kind)), level, area.x0 / kTileSize,
                              area.y0 / kTileSize};
    const Rect tile = tileRect(key.tx, key.ty, picture);
    CachedTile out{cache.find<uint16_t[]>(key), tile};
    if (!out.values && mayMake) {
        auto values = takeTilePixels();
        make(tile, values.get());
        out.values = putTile(cache, key, std::move(values), tile.area());
    }
    return out;
}

/// A part alone (under the brush) is not worth making the whole tile.
inline bool isWholeTile(const Rect &area, const Rect &picture)
{
    return tileRect(area.x0 / kTileSize, area.y0 / kTileSize, picture) == area;
}

} // namespace buttonhole
