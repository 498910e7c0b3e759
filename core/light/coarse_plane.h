#pragma once

#include "base/rect.h"
#include "light/guided_mean.h"

#include <algorithm>
#include <vector>

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
};

/// A reduced plane enlarged again, row by row: values between the middles of its pixels, straight.
class EnlargedRows
{
public:
    /// @param area what `coarse` was reduced from; @param part of it that is wanted
    /// @param step by how much, at least 2; `coarse` outlives it
    EnlargedRows(const Plane &coarse, const Rect &area, const Rect &part, int step);

    /// The part's row; until the next is asked for.
    const float *row(int y);

private:
    const Plane &m_coarse;
    int m_step;
    int m_above;
    std::vector<float> m_share; ///< of the second of two middles, by place between them
    int m_first;                ///< middle before the part
    int m_before;               ///< px from that middle to the part
    int m_cells;                ///< between two middles
    std::vector<float> m_middles;
    std::vector<float> m_row;
};

/// A plane of every other pixel filled up: what lies between its values, straight.
class FilledRows
{
public:
    /// @param left, top of what it is every other pixel of; @param part of that, which is wanted;
    /// `plane` outlives it
    FilledRows(const Plane &plane, int left, int top, const Rect &part);

    /// The part's row; until the next is asked for.
    const float *row(int y);

private:
    const Plane &m_plane;
    int m_left;
    int m_top;
    Rect m_part;
    std::vector<float> m_between; ///< rows
    std::vector<float> m_row;
};

} // namespace buttonhole
