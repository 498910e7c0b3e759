#include "render/cached_tile.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

constexpr size_t kTileBytes = sizeof(uint16_t) * kTileSize * kTileSize;
constexpr size_t kFlatBytes = 128; ///< an entry alone

TileValues makeFlat(uint16_t value)
{
    auto out = takeTilePixels();
    std::fill_n(out.get(), size_t(kTileSize) * kTileSize, value);
    return out;
}

/// The tile that stands for all whose n values are 0 or 65535; null: others.
TileValues sharedFlat(const TileValues &values, size_t n)
{
    static const TileValues none = makeFlat(0);
    static const TileValues full = makeFlat(65535);
    for (const auto &flat : {none, full})
        if (std::equal(flat.get(), flat.get() + n, values.get()))
            return flat;
    return nullptr;
}

} // namespace

TileValues putTile(StageCache &cache, const StageCache::Key &key, TileValues values, size_t n)
{
    const TileValues flat = sharedFlat(values, n);
    if (flat)
        values = flat;
    cache.put<uint16_t[]>(key, values, flat ? kFlatBytes : kTileBytes);
    return values;
}

} // namespace buttonhole
