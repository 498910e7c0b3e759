#pragma once

#include "base/run.h"
#include "io/photo_levels.h"
#include "raster/mask_plane.h"
#include "segment/colour_density.h"

#include <opencv2/core.hpp>

namespace buttonhole
{

/// Colours of what is inside and outside, for evidence at any size.
struct ColourEvidence {
    ColourDensity inside;
    ColourDensity outside;
};

/// Carries a coarse cut to the photo's own pixels: level by level the edge is sought anew in a band
/// round where it was.
/// @param labels 0 or 255 over `area`, of any smaller size
/// @param area   level-0 px
/// @param finest the last level
/// Errors: Cancelled.
Result<MaskPlane> snapEdge(const PhotoLevels &levels, const cv::Mat1b &labels, const Rect &area,
                           const ColourEvidence &colours, int finest, const Run &run);

} // namespace buttonhole
