#pragma once

#include "light/adjustment.h"
#include "mask/mask.h"

namespace buttonhole
{

/// Of what lies under its mask, what a local tone changes.
enum class ActsOn { All, Grey, Kept };
std::string_view toWord(ActsOn actsOn); ///< "all", "grey", "kept"
Result<ActsOn> actsOnFromWord(std::string_view word);

/// A part whose light is changed, whatever else acts there.
struct LocalTone : MaskedLine {
    ActsOn actsOn = ActsOn::All;
    std::vector<AdjustmentRef> effects; ///< one after the other
};

/// An adjustment that acts everywhere.
struct AdjustmentLine {
    uint64_t id = 0;
    bool on = true;
    AdjustmentRef adjustment;
};

/// Every number of a local tone and of its mask; those of its effects are their kinds'.
std::span<const Param<LocalTone>> localToneParams();

/// How far a change of a step reaches through its mask and its effects, px of the photo.
int reachPx(const LocalTone &tone);

} // namespace buttonhole
