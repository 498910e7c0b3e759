#pragma once

#include "segment/region_solver.h"

namespace buttonhole
{

/// What the segmentation net takes for the foreground round a box: the answers for the box enlarged
/// by 8, 20 and 40 %, each mirrored too, averaged, and scaled by their 90th percentile in the box.
/// Trusted by how high that is: people, animals, fruit and flowers are answered well, furniture and
/// small things weakly. Errors: NotFound, Damaged (models); Cancelled.
Result<RegionPrior> findForeground(const PhotoLevels &levels, const Rect &box, const Run &run = {});

} // namespace buttonhole
