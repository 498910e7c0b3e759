#pragma once

#include "nets/nets.h"

#include <QImage>

namespace buttonhole::app
{

/// A part of the photo as it was read for nets, to be shown.
inline QImage toImage(const NetPicture &picture)
{
    return QImage(picture.rgb.data(), picture.width, picture.height, 3 * picture.width,
                  QImage::Format_RGB888)
        .copy();
}

} // namespace buttonhole::app
