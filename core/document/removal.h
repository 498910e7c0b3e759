#pragma once

#include "light/patch.h"
#include "mask/mask.h"

namespace buttonhole
{

struct Take;

/// Something that is taken out of the photo: what its mask covers is filled from round about, once,
/// and the answer kept. It acts before all other light.
struct Removal : MaskedLine {
    static constexpr float kMostTries = 1000;
    float tries = 0; ///< another number, another answer
    Rect source;     ///< px of the photo it may be filled from; empty: all round about
    std::shared_ptr<const Patch> patch; ///< what it shows; null: it was not filled yet
    uint64_t filledFor = 0;             ///< what askedBy() was then

    /// Its mask, or what is asked of it, has changed since it was filled.
    bool isStale() const;
};

/// Every number of a removal and of its mask.
std::span<const Param<Removal>> removalParams();
/// The id of all that a filling of it depends on, but for the photo.
uint64_t askedBy(const Removal &removal);

/// Fills what a removal's mask covers, on the photo as the removals before it leave it.
/// @return the removal with its patch
/// Errors: NotFound: there is no such removal; InvalidArgument: its mask covers nothing, or too
/// much; Cancelled.
Result<Removal> filled(const PhotoLevels &levels, const Take &take, uint64_t removalId,
                       const Run &run = {});

} // namespace buttonhole
