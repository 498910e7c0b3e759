#pragma once

#include "base/run.h"

#include "raster/image.h"

#include <QImage>

namespace buttonhole::app
{

/// A copy of pixels of red, green and blue.
QImage imageOf(const Image<uint8_t> &pixels);

/// A small picture of a photo or a work, in the work's look; null where there is no quick one.
/// @param longEdge px that it should have at least
QImage quickPicture(const QString &path, int longEdge, const Run &run = {});

/// The same for a sheet: out of the desktop's store of thumbnails, or made (slowly, where there is
/// no quick one) and put there, as the freedesktop.org Thumbnail Managing Standard says.
QImage sheetPicture(const QString &path, const Run &run = {});

} // namespace buttonhole::app
