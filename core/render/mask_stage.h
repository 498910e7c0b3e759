#pragma once

#include "document/take.h"
#include "raster/room.h"
#include "render/cached_tile.h"

namespace buttonhole
{

/// What stays in colour by all keeps that are on: the greatest of their masks.
/// @param mask  area.area() values, uint16 0..65535
/// @param owner if not null, area.area() values: 1 + the index in take.keeps of the keep whose
///              colour shows (the later one wins where it is at least as strong), 0 where none
/// @param cache for masks that will be asked for again; values are the same without
void combinedMask(const PhotoLevels &levels, const Take &take, int level, const Rect &area,
                  uint16_t *mask, uint16_t *owner = nullptr, StageCache *cache = nullptr);

/// A mask over any part of a level, as fullMask(); with a cache by whole tiles.
void maskOver(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
              uint16_t *out, StageCache *cache);
/// The same row by row: out of the cache without a copy, where the area lies in one tile.
class MaskShares
{
public:
    MaskShares(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
               StageCache *cache);

    const uint16_t *row(int y) const
    {
        return m_own ? m_own.get() + size_t(y - m_area.y0) * size_t(m_area.width())
                     : m_tile.row(y, m_area);
    }
    /// All values, row after row, to be changed.
    uint16_t *own();
    bool areAll(uint16_t share) const;

private:
    Rect m_area;
    CachedTile m_tile;
    Room<uint16_t> m_own;
};

/// The same of a keep, by its strength.
void keepMaskOver(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                  uint16_t *out, StageCache *cache);

} // namespace buttonhole
