#pragma once

#include "colour/colour_look.h"
#include "mask/mask.h"

namespace buttonhole
{

/// A part that stays in colour, by the strength of its mask, and how its colour looks.
struct Keep : MaskedLine {
    float spill = 0; ///< 0..1: how much edges, and what is marked, take the subject's own colour
    ColourLook look;

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
