#pragma once

#include "base/run.h"
#include "io/photo_levels.h"
#include "raster/mask_plane.h"
#include "segment/colour_density.h"
#include "segment/labelled.h"

namespace buttonhole
{

/// Colours of what is inside and outside, for evidence at any size.
struct ColourEvidence {
    ColourDensity inside;
    ColourDensity outside;
};

/// Carries a coarse cut to the photo's own pixels: level by level the edge is sought anew in a band
/// round where it was.
/// @param finest the last level
/// Errors: Cancelled.
Result<MaskPlane> snapEdge(const PhotoLevels &levels, const Labelled &coarse,
                           const ColourEvidence &colours, int finest, const Run &run);

} // namespace buttonhole
