#pragma once

#include "io/photo_levels.h"
#include "mask/keep.h"

#include <array>
#include <optional>

namespace buttonhole
{

/// The colour a keep stands for, sRGB 0..255: the mean of the pixels in its mask, weighted by
/// coverage and chroma, so that a red spool with a wooden rim is red. Nothing for an empty mask.
std::optional<std::array<uint8_t, 3>> findKeptColour(const PhotoLevels &levels, const Keep &keep);

} // namespace buttonhole
