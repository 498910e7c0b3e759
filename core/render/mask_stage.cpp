#include "render/mask_stage.h"

#include "base/each_cpu.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

/// Copies what `from` and `area` share; rows of `out` are `area` wide.
void copyShared(const CachedTile &from, const Rect &shared, const Rect &area, uint16_t *out)
{
    for (int y = shared.y0; y < shared.y1; ++y)
        std::copy_n(from.row(y, shared), shared.width(),
                    out + size_t(y - area.y0) * size_t(area.width()) + (shared.x0 - area.x0));
}

/// The folded mask, tile by tile out of the cache.
class CachedFold
{
public:
    CachedFold(const PhotoLevels &levels, const Mask &mask, StageCache &cache, bool mayMake)
        : m_levels(levels), m_mask(mask), m_cache(cache), m_mayMake(mayMake),
          m_content(joinedContent(levels.content(), foldedContent(mask)))
    {
    }

    void operator()(int level, const Rect &area, uint16_t *out) const
    {
        const Rect picture = m_levels.rectOf(level);
        for (int ty = area.y0 / kTileSize; ty <= (area.y1 - 1) / kTileSize; ++ty)
            for (int tx = area.x0 / kTileSize; tx <= (area.x1 - 1) / kTileSize; ++tx)
                copyTile(level, intersected(area, tileRect(tx, ty, picture)), picture, area, out);
    }

private:
    void copyTile(int level, const Rect &shared, const Rect &picture, const Rect &area,
                  uint16_t *out) const
    {
        CachedTile tile = cachedTile(m_cache, TileKind::FoldedMask, m_content, level, shared,
                                     picture, m_mayMake, [&](const Rect &whole, uint16_t *to) {
                                         foldedMask(m_levels, m_mask, level, whole, to);
                                     });
        if (!tile.values) {
            auto values = takeTilePixels();
            foldedMask(m_levels, m_mask, level, shared, values.get());
            tile = {std::move(values), shared};
        }
        copyShared(tile, shared, area, out);
    }

    const PhotoLevels &m_levels;
    const Mask &m_mask;
    StageCache &m_cache;
    bool m_mayMake;
    uint64_t m_content;
};

void shapePart(const PhotoLevels &levels, const Mask &mask, int level, const Rect &part,
               uint16_t *to, StageCache &cache, bool isWhole)
{
    if (!mask.hasMargin()) {
        fullMask(levels, mask, level, part, to);
        return;
    }
    // Neighbours will ask for the folded mask again.
    shapedMask(levels, mask, level, part, to, CachedFold(levels, mask, cache, isWhole));
}

/// The tile of the shaped mask that an area lies in; it has no values where there is none and the
/// area is a part of it.
CachedTile shapedTile(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
                      StageCache &cache)
{
    const Rect picture = levels.rectOf(level);
    const bool isWhole = isWholeTile(area, picture);
    return cachedTile(cache, TileKind::ShapedMask,
                      joinedContent(levels.content(), shapedContent(mask)), level, area, picture,
                      isWhole, [&](const Rect &part, uint16_t *to) {
                          shapePart(levels, mask, level, part, to, cache, isWhole);
                      });
}

void cachedMask(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
                uint16_t *out, StageCache &cache)
{
    const CachedTile shaped = shapedTile(levels, mask, level, area, cache);
    if (shaped.values)
        copyShared(shaped, area, area, out);
    else
        shapePart(levels, mask, level, area, out, cache, false);
}

BUTTONHOLE_EACH_CPU
bool isRowOf(uint16_t share, const uint16_t *row, int n)
{
    uint16_t others = 0;
    for (int i = 0; i < n; ++i)
        others = uint16_t(others | (row[i] ^ share));
    return others == 0;
}

} // namespace

void maskOver(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
              uint16_t *out, StageCache *cache)
{
    if (!cache) {
        fullMask(levels, mask, level, area, out);
        return;
    }
    const Rect picture = levels.rectOf(level);
    parallelTiles(area, [&](const Rect &part) {
        const Rect tile = tileRect(part.x0 / kTileSize, part.y0 / kTileSize, picture);
        copyShared(shapedTile(levels, mask, level, tile, *cache), part, area, out);
    });
}

MaskShares::MaskShares(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
                       StageCache *cache)
    : m_area(area)
{
    const Rect tile = tileRect(area.x0 / kTileSize, area.y0 / kTileSize, levels.rectOf(level));
    if (cache && intersected(tile, area) == area) {
        m_tile = shapedTile(levels, mask, level, tile, *cache);
        return;
    }
    m_own = roomFor<uint16_t>(area.area());
    maskOver(levels, mask, level, area, m_own.get(), cache);
}

uint16_t *MaskShares::own()
{
    if (!m_own) {
        m_own = roomFor<uint16_t>(m_area.area());
        copyShared(m_tile, m_area, m_area, m_own.get());
    }
    return m_own.get();
}

bool MaskShares::areAll(uint16_t share) const
{
    for (int y = m_area.y0; y < m_area.y1; ++y)
        if (!isRowOf(share, row(y), m_area.width()))
            return false;
    return true;
}

void keepMaskOver(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                  uint16_t *out, StageCache *cache)
{
    maskOver(levels, keep, level, area, out, cache);
    applyStrength(keep.strength, out, area.area());
}

void combinedMask(const PhotoLevels &levels, const Take &take, int level, const Rect &area,
                  uint16_t *mask, uint16_t *owner, StageCache *cache)
{
    const size_t n = area.area();
    std::vector<uint16_t> one;
    bool first = true;
    for (size_t k = 0; k < take.keeps.size(); ++k) {
        const Keep &keep = take.keeps[k];
        if (!keep.on)
            continue;
        one.resize(first ? 0 : n);
        uint16_t *to = first ? mask : one.data();
        if (cache && !keep.steps.empty())
            cachedMask(levels, keep, level, area, to, *cache);
        else
            fullMask(levels, keep, level, area, to);
        applyStrength(keep.strength, to, n);
        const auto mark = uint16_t(k + 1);
        if (owner)
            for (size_t i = 0; i < n; ++i)
                owner[i] = to[i] > 0 && (first || to[i] >= mask[i]) ? mark
                           : first                                  ? uint16_t(0)
                                                                    : owner[i];
        if (!first)
            for (size_t i = 0; i < n; ++i)
                mask[i] = std::max(mask[i], one[i]);
        first = false;
    }
    if (!first)
        return;
    std::fill_n(mask, n, uint16_t(0));
    if (owner)
        std::fill_n(owner, n, uint16_t(0));
}

} // namespace buttonhole
