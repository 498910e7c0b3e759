#pragma once

#include "light/adjustment.h"
#include "mask/mask.h"

namespace buttonhole
{

/// A part whose light is changed, whatever else acts there.
struct LocalTone : MaskedLine {
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
