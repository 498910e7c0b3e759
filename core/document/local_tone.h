#pragma once

#include "light/adjustment.h"
#include "mask/mask.h"

namespace buttonhole
{

/// A named part whose light is changed, whatever else acts there: a mask, by its strength, and what
/// changes, one after the other.
struct LocalTone : Mask {
    uint64_t id = 0;
    std::string name;
    bool on = true;
    float strength = 1.0F; ///< 0..1
    std::vector<AdjustmentRef> effects;
    std::string extraJson; ///< members from a newer version, kept as they are
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
