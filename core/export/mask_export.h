#pragma once

#include "io/photo_levels.h"
#include "mask/keep.h"

namespace buttonhole
{

/// One keep's final mask, of the whole photo, as a grey PNG of 8 or 16 bits.
/// Errors: as exportPicture().
Result<void> exportMask(const PhotoLevels &levels, const Keep &keep, int bits,
                        const OutputPath &path, const Run &run = {});

} // namespace buttonhole
