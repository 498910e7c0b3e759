#pragma once

#include <cmath>

namespace buttonhole
{

/// A place on the photo, px; pixel centres at +0.5.
struct PhotoPoint {
    float x = 0;
    float y = 0;
    friend bool operator==(const PhotoPoint &, const PhotoPoint &) = default;
};

/// px
inline double distance(const PhotoPoint &a, const PhotoPoint &b)
{
    return std::hypot(double(a.x - b.x), double(a.y - b.y));
}

} // namespace buttonhole
