#pragma once

#include "io/photo_levels.h"

#include <vector>

namespace buttonhole
{

/// Dust on the sensor, as it is in a photo: small, soft, round, darker than the even ground about.
struct Spot {
    float x = 0; ///< its middle, px of the photo
    float y = 0;
    float radiusPx = 0;
};

/// The spots of a photo, the surest first, by differences of Gaussians over seven sizes (T.
/// Lindeberg, "Feature detection with automatic scale selection", IJCV 30, 1998), each judged by
/// the ground about it. Errors: Cancelled.
Result<std::vector<Spot>> findSpots(const PhotoLevels &levels, const Run &run = {});

} // namespace buttonhole
