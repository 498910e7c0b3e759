#pragma once

#include "clean/find_spots.h"

namespace buttonhole
{

/// From where a spot is mended, px of the photo from its middle.
struct SpotSource {
    int dx = 0;
    int dy = 0;
};

/// The place near by whose ring is most like the spot's own, and whose inside holds nothing else.
/// @param others places that are no good either
SpotSource findSpotSource(const PhotoLevels &levels, const Spot &spot,
                          const std::vector<Spot> &others);

} // namespace buttonhole
