#pragma once

#include "base/param.h"
#include "colour/colour_look.h"
#include "mask/step.h"
#include "matting/edge_band.h"

namespace buttonhole
{

/// A named part that stays in colour: a mask (its steps folded in order, cleaned of specks and
/// holes, grown or shrunk, feathered, inverted, by its strength) and how its colour looks.
struct Keep {
    uint64_t id = 0;
    std::string name;
    bool on = true;
    float strength = 1.0F; ///< 0..1, how much of the colour comes back
    float specksPx = 0;    ///< parts of the mask up to this long are dropped, 0..kMostCleanPx
    float holesPx = 0;     ///< holes up to this long are filled
    float softEdgePx = 0;  ///< to either side of the edge coverage is found from the photo, 0 (off)
                           ///< ..kMostSoftEdgePx
    bool softEdgeFound = false; ///< that far as the photo's own edge is blurred instead
    float growPx = 0;           ///< px of the photo, -kMostGrowPx..kMostGrowPx; negative shrinks
    float featherPx = 0;        ///< px of the photo, standard deviation, 0..kMostFeatherPx
    float spill = 0; ///< 0..1: how much edges, and what is marked, take the subject's own colour
    bool invert = false; ///< everything but what the steps gather
    ColourLook look;
    std::vector<Step> steps;
    std::string extraJson; ///< members from a newer version, kept as they are

    const Step *findStep(uint64_t stepId) const;
    /// Steps that are on mark places of that kind.
    bool hasMarks(Sign sign) const;
    bool hasFuzz() const { return hasMarks(Sign::Fuzz); }
    /// The soft edge, px of a level: fuzz has one even where none was set.
    EdgeBand softBand(int level = 0) const;
    /// How much of spilt colour is taken out: all, where places are marked and nothing was set.
    float spillShare() const { return spill == 0 && hasMarks(Sign::Spill) ? 1 : spill; }
    /// The mask depends on more than what the steps say of the pixel.
    bool hasMargin() const
    {
        return isCleaned() || !softBand().isNone() || growPx != 0 || featherPx != 0;
    }
    bool isCleaned() const { return specksPx > 0 || holesPx > 0; }
    /// Needs a photo's smaller levels, not level 0 alone.
    bool needsLevels() const;
};

/// Every number of a keep and of how its colour looks.
std::span<const Param<Keep>> keepParams();

/// The keep as it is shown while its mask is being painted: without what is found in the photo
/// round the edge, which takes longer than a dab.
Keep draftOf(const Keep &keep);
bool hasDraft(const Keep &keep); ///< that is another

/// Errors: InvalidArgument for what is not a number or out of range, named in the subject.
Result<void> check(const Keep &keep);

/// How far, in px of the photo, a change of a step reaches through cleaning, growing and
/// feathering; through a soft edge it may reach everywhere.
int reachPx(const Keep &keep);

/// A keep's final mask.
/// @param level pyramid level; @param area pixels of that level
/// @param out   area.area() values, uint16 0..65535
/// At level 0 exact; above, steps are folded from their reduced rasters (they differ only where the
/// edges of two steps cross inside one reduced pixel).
void keepMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
              uint16_t *out);

// Its stages, and the id of all that each depends on.

/// Steps folded.
void foldedMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                uint16_t *out);
uint64_t foldedContent(const Keep &keep);
/// Gives a part of the folded mask, made or remembered.
using FoldedSource = std::function<void(int level, const Rect &area, uint16_t *out)>;
/// Cleaned, grown, feathered and inverted. Feathering wider than a few pixels works on a coarser
/// level: its cost does not depend on the width.
void shapedMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                uint16_t *out, const FoldedSource &folded);
uint64_t shapedContent(const Keep &keep);
/// What its marks of one kind cover, 0..65535, the greatest of them. @return false: nothing
bool markedPart(const PhotoLevels &levels, const Keep &keep, Sign sign, int level, const Rect &area,
                uint16_t *out);
/// n mask values by the keep's strength, in place.
void applyStrength(float strength, uint16_t *mask, size_t n);

} // namespace buttonhole
