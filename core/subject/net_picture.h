#pragma once

#include "io/photo_levels.h"
#include "nets/nets.h"

namespace buttonhole
{

/// A part of the photo as nets get it. @param area level-0 px inside the photo
/// @param longEdge px; a smaller area is not enlarged
NetPicture readNetPicture(const PhotoLevels &levels, const Rect &area, int longEdge);

/// The same seen in a mirror.
NetPicture mirrored(const NetPicture &picture);

/// `box` with a share of its size more on each side, as far as the photo goes.
Rect enlarged(const Rect &box, double share, const Rect &photo);

} // namespace buttonhole
