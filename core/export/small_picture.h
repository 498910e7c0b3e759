#pragma once

#include "document/take.h"
#include "io/photo_levels.h"

namespace buttonhole
{

/// The result as a small sRGB picture, for previews and thumbnails; the long edge is at most
/// `longEdgePx`.
Result<Image<uint8_t>> renderSmall(const PhotoLevels &levels, const Take &take, int longEdgePx);
Result<std::vector<uint8_t>> makePreviewJpeg(const PhotoLevels &levels, const Take &take,
                                             int longEdgePx);

} // namespace buttonhole
