#pragma once

#include "io/photo_levels.h"
#include "raster/light_tile.h"

#include <vector>

namespace buttonhole
{

/// How a hole is filled.
struct FillOptions {
    uint32_t attempt = 0; ///< another one, another answer
    Rect source;          ///< px of the photo that may be used; empty: all round about
};

/// A part of a photo without what a hole covers: what lies round it goes on, structure before
/// texture (Y. Wexler et al., "Space-time completion of video", PAMI 29, 2007, by the search of C.
/// Barnes et al., "PatchMatch", SIGGRAPH 2009), from coarse to fine. The same on any number of
/// threads.
/// @param hole 0 or not, row by row over `area`, which lies on the photo
/// @return linear light over `area`: the photo's own outside of the hole
/// Errors: InvalidArgument: there is nothing to fill from, or too much to fill; Cancelled.
Result<LightTile> fillHole(const PhotoLevels &levels, const Rect &area,
                           const std::vector<uint8_t> &hole, const FillOptions &options = {},
                           const Run &run = {});

} // namespace buttonhole
