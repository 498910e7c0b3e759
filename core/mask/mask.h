#pragma once

#include "base/param.h"
#include "mask/mask_filter.h"
#include "mask/step.h"
#include "matting/edge_band.h"

namespace buttonhole
{

/// Where something acts: steps folded in order, cleaned of specks and holes, its edge made soft by
/// the photo, grown or shrunk, feathered, inverted. Always of the photo as it was taken.
struct Mask {
    float specksPx = 0;   ///< parts up to this long are dropped, 0..kMostCleanPx
    float holesPx = 0;    ///< holes up to this long are filled
    float softEdgePx = 0; ///< to either side of the edge coverage is found from the photo, 0 (off)
                          ///< ..kMostSoftEdgePx
    bool softEdgeFound = false; ///< that far as the photo's own edge is blurred instead
    float growPx = 0;           ///< px of the photo, -kMostGrowPx..kMostGrowPx; negative shrinks
    float featherPx = 0;        ///< px of the photo, standard deviation, 0..kMostFeatherPx
    bool invert = false;        ///< everything but what the steps gather
    std::vector<Step> steps;

    const Step *findStep(uint64_t stepId) const;
    /// Steps that are on mark places of that kind.
    bool hasMarks(Sign sign) const;
    bool hasFuzz() const { return hasMarks(Sign::Fuzz); }
    /// The soft edge, px of a level: fuzz has one even where none was set.
    EdgeBand softBand(int level = 0) const;
    /// The mask depends on more than what the steps say of the pixel.
    bool hasMargin() const
    {
        return isCleaned() || !softBand().isNone() || growPx != 0 || featherPx != 0;
    }
    bool isCleaned() const { return specksPx > 0 || holesPx > 0; }
    /// Needs a photo's smaller levels, not level 0 alone.
    bool needsLevels() const;
};

/// Every number of a mask, for a T that is one.
template <class T>
constexpr std::array<Param<T>, 5> maskRows()
{
    constexpr ParamScale px{1, " px", 1, ParamScale::Way::Eased};
    constexpr ParamScale wholePx{1, " px", 0, ParamScale::Way::Eased};
    return {
        {{"featherPx", [](T &m) -> float & { return m.featherPx; }, 0, kMostFeatherPx, 3, px},
         {"growPx", [](T &m) -> float & { return m.growPx; }, -kMostGrowPx, kMostGrowPx, 3, px},
         {"softEdgePx", [](T &m) -> float & { return m.softEdgePx; }, 0, kMostSoftEdgePx, 4, px},
         {"specksPx", [](T &m) -> float & { return m.specksPx; }, 0, kMostCleanPx, 4, wholePx},
         {"holesPx", [](T &m) -> float & { return m.holesPx; }, 0, kMostCleanPx, 4, wholePx}}};
}
std::span<const Param<Mask>> maskParams();

/// A line of the ticket that acts by a mask.
struct MaskedLine : Mask {
    uint64_t id = 0;
    std::string name;
    bool on = true;
    float strength = 1.0F; ///< 0..1: how much of what it does shows
    std::string extraJson; ///< members from a newer version, kept as they are
};

/// Every number of a masked line, for a T that is one.
template <class T>
constexpr auto maskedLineRows()
{
    constexpr Param<T> own[] = {
        {"strength", [](T &l) -> float & { return l.strength; }, 0, 1, 1, {100, " %"}}};
    return joinedRows(own, maskRows<T>());
}

/// How far, in px of the photo, a change of a step reaches through cleaning, growing and
/// feathering; through a soft edge it may reach everywhere.
int reachPx(const Mask &mask);

/// @param level pyramid level; @param area pixels of that level
/// @param out   area.area() values, uint16 0..65535
/// At level 0 exact; above, steps are folded from their reduced rasters (they differ only where the
/// edges of two steps cross inside one reduced pixel).
void fullMask(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
              uint16_t *out);

// Its stages, and the id of all that each depends on.

/// Steps folded.
void foldedMask(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
                uint16_t *out);
uint64_t foldedContent(const Mask &mask);
/// Gives a part of the folded mask, made or remembered.
using FoldedSource = std::function<void(int level, const Rect &area, uint16_t *out)>;
/// Cleaned, grown, feathered and inverted. Feathering wider than a few pixels works on a coarser
/// level: its cost does not depend on the width.
void shapedMask(const PhotoLevels &levels, const Mask &mask, int level, const Rect &area,
                uint16_t *out, const FoldedSource &folded);
uint64_t shapedContent(const Mask &mask);
/// What its marks of one kind cover, 0..65535, the greatest of them. @return false: nothing
bool markedPart(const PhotoLevels &levels, const Mask &mask, Sign sign, int level, const Rect &area,
                uint16_t *out);
/// n mask values by a strength 0..1, in place.
void applyStrength(float strength, uint16_t *mask, size_t n);

} // namespace buttonhole
