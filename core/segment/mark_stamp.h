#pragma once

#include "raster/mask_plane.h"
#include "segment/region_solver.h"

namespace buttonhole
{

/// Half of a mark's width, but at least a pixel: what lies so near to its line is what was meant.
/// @return px of the photo
int sureRadius(const RegionMark &mark);

/// Marks hold to the pixel, whatever their surroundings say: all or nothing as far as sureRadius()
/// from their lines; where two cross, the later holds.
void stampMarks(MaskPlane &plane, const std::vector<RegionMark> &marks);

} // namespace buttonhole
