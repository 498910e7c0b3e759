#pragma once

#include "io/photo.h"
#include "raster/light_tile.h"

#include <vector>

namespace buttonhole
{

/// The photo with that light over `area`: as codes of its own, the others untouched.
std::shared_ptr<const Photo> withLight(const Photo &photo, const LightTile &light,
                                       const std::vector<uint8_t> &where);

} // namespace buttonhole
