#pragma once

#include "base/rect.h"
#include "light/guided_mean.h"

#include <algorithm>

namespace buttonhole
{

/// Wide means at a fraction of the cost: a plane reduced by a power of two on the level's own grid,
/// worked on, and enlarged again. The same bits wherever the plane is cut.
class CoarsePlane
{
public:
    /// By how much a plane is reduced for a Gaussian of that width: enough remains of it.
    static int stepFor(double sigma)
    {
        constexpr double kEnough = 3; // px
        int step = 1;
        while (sigma / step > kEnough)
            step *= 2;
        return step;
    }
    /// The area that a reach of so many coarse px round `area` needs, on the grid, inside the
    /// picture.
    static Rect widened(const Rect &area, int reach, int step, const Rect &picture)
    {
        const int by = reach + 1;
        const auto down = [&](int v) { return (v / step - by) * step; };
        const auto up = [&](int v) { return ((v + step - 1) / step + by) * step; };
        return intersected({down(area.x0), down(area.y0), up(area.x1), up(area.y1)}, picture);
    }

    /// @param area of `in`; its left and top lie on the grid of `step`
    static Plane reduced(const Plane &in, const Rect &area, int step);
    /// Values between the middles of coarse pixels, straight.
    /// @param area what `coarse` was reduced from; @param part of it that is wanted
    static Plane enlarged(const Plane &coarse, const Rect &area, const Rect &part, int step);
};

} // namespace buttonhole
