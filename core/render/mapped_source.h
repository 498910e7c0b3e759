#pragma once

#include "geometry/picture_map.h"
#include "light/source.h"

namespace buttonhole
{

/// A photo's light in picture space, which counts its pixels as PictureRect does: pixels in other
/// places, or where the map is not exact, resampled, once, as linear as the light is.
/// @param outside of the photo there is this
SourceRef inPicture(SourceRef photo, const PictureMap &map, float outside = 1);

/// A picture's light back in photo space, inside the crop. @param map exact
SourceRef inPhoto(SourceRef picture, const PictureMap &map);

} // namespace buttonhole
