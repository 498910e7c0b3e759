#pragma once

#include "colour/colour_look.h"
#include "mask/mask.h"

namespace buttonhole
{

/// Light that a keep gives off round it, behind it.
struct Glow {
    float strength = 0;  ///< 0..2, factor of its light
    float sizePx = 25;   ///< 1..60, px of the photo: standard deviation
    float ownColour = 1; ///< 0..1: share of the keep's own light; the rest is of the hue
    float hueDeg = 80;   ///< OKLCh, of the light that is not its own
    float lightens = 0;  ///< 0..1: 0 adds light (screen), 1 only lightens what is darker
};

/// A part that stays in colour, by the strength of its mask, and how its colour looks.
struct Keep : MaskedLine {
    float spill = 0; ///< 0..1: how much edges, and what is marked, take the subject's own colour
    ColourLook look;
    Glow glow;

    /// How much of spilt colour is taken out: all, where places are marked and nothing was set.
    float spillShare() const { return spill == 0 && hasMarks(Sign::Spill) ? 1 : spill; }
};

/// Every number of a keep, of its mask and of how its colour looks.
std::span<const Param<Keep>> keepParams();

/// The keep as it is shown while its mask is being painted: without what is found in the photo
/// round the edge, which takes longer than a dab.
Keep draftOf(const Keep &keep);
bool hasDraft(const Keep &keep); ///< that is another

/// The id of all that its mask and its colour depend on.
uint64_t contentOf(const Keep &keep);

/// Errors: InvalidArgument for what is not a number or out of range, named in the subject.
Result<void> check(const Keep &keep);

/// A keep's final mask: see fullMask().
void keepMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
              uint16_t *out);

} // namespace buttonhole
