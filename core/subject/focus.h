#pragma once

#include "segment/region_solver.h"

namespace buttonhole
{

/// Where the photo is in focus, as evidence for what stands before a blurred background.
///
/// An edge is as sharp as its gradient exceeds that of the same edge blurred (S. Zhuo and T. Sim,
/// "Defocus map estimation from a single image", Pattern Recognition 44(9), 2011); what has no
/// edges takes after what lies round it (normalised convolution: H. Knutsson and C.-F. Westin, CVPR
/// 1993). Trusted as far as the box holds what is sharp and what lies round it, or along the
/// photo's border, is blurred: where all is sharp it says nothing.
/// @param box level-0 px inside the photo
RegionPrior findFocus(const PhotoLevels &levels, const Rect &box);

} // namespace buttonhole
