#pragma once

#include "base/photo_point.h"
#include "base/rect.h"

namespace buttonhole
{

/// From the frame of one photo to that of another: places keep their shares of width and height.
struct FrameScale {
    double x = 1;
    double y = 1;

    PhotoPoint of(const PhotoPoint &at) const
    {
        return {float(double(at.x) * x), float(double(at.y) * y)};
    }
    Rect of(const Rect &rect) const
    {
        const auto px = [](int at, double by) { return int(std::lround(at * by)); };
        return {px(rect.x0, x), px(rect.y0, y), px(rect.x1, x), px(rect.y1, y)};
    }
    /// Of lengths that have no direction.
    double length() const { return std::sqrt(x * y); }
    bool isNone() const { return x == 1 && y == 1; }
};

} // namespace buttonhole
