#pragma once

#include "base/photo_point.h"
#include "geometry/warp.h"

#include <vector>

namespace buttonhole
{

/// A line drawn along something that should be level or upright, whichever it is nearer to.
struct DrawnLine {
    PhotoPoint from; ///< px of the photo
    PhotoPoint to;
};

/// Set so that the lines are: one by the angle; with two or more, uprights that lean together by
/// the vertical tilt as well, level ones by the horizontal one. What the lines say nothing of
/// stays. Numbers stay within what may be stored: what needs more is done as far as that goes.
Straightening straightenedBy(const std::vector<DrawnLine> &lines, const Straightening &now,
                             const Radial &distortion, int width, int height);

} // namespace buttonhole
