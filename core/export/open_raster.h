#pragma once

#include "export/picture_order.h"

namespace buttonhole
{

/// Writes an OpenRaster file (Open Raster specification 0.0.5): a layer of grey, over it the
/// colours that are kept with their mask as alpha, over those, where there are any, what local
/// tones and the finish changed. Laid over each other they are the picture; that is in it as a
/// whole, too.
/// @param order of its own size, in sRGB. @param file is replaced
/// Errors: those of renderPicture(), Io, DiskFull.
Result<void> writeOpenRaster(const PictureOrder &order, const std::string &file);

} // namespace buttonhole
