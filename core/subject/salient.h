#pragma once

#include "segment/region_solver.h"

namespace buttonhole
{

/// What the network for what stands out (IS-Net: X. Qin et al., "Highly accurate dichotomous image
/// segmentation", ECCV 2022) says of what a box holds; with room round it, it is taken in by what
/// lies beside the thing. It is the answer where it is sure, fills the box and is of one thing;
/// elsewhere it is trusted as far as it is so.
/// @param box level-0 px inside the photo; the whole photo: what stands out in all of it
/// Errors: NotFound, Damaged (models); Cancelled.
Result<RegionPrior> findSalient(const PhotoLevels &levels, const Rect &box, const Run &run = {});

} // namespace buttonhole
