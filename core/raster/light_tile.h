#pragma once

#include "base/rect.h"
#include "raster/room.h"

#include <algorithm>

namespace buttonhole
{

/// Linear light of a part of a level: red, green and blue of its source's space as planes of
/// floats, 1 = white, open above and below. Rows are padded, so that row functions may work on them
/// in place. Moves; copies by copyFrom().
class LightTile
{
public:
    LightTile() = default;
    explicit LightTile(const Rect &where) { setArea(where); }

    const Rect &area() const { return m_area; }
    /// For other pixels from now on, whose values are open; memory is made only to grow.
    void setArea(const Rect &where)
    {
        m_area = where;
        m_stride = (size_t(std::max(0, where.width())) + kPadding + 15) / 16 * 16;
        const size_t needed = 3 * m_stride * size_t(std::max(0, where.height()));
        if (needed <= m_room)
            return;
        m_values.reset();
        m_values = roomFor<float>(needed);
        m_room = needed;
    }

    /// The row of a y of the level; channel 0..2.
    float *row(int channel, int y) { return m_values.get() + start(channel, y); }
    const float *row(int channel, int y) const { return m_values.get() + start(channel, y); }
    /// The same from an x of the level on.
    float *at(int channel, int x, int y) { return row(channel, y) + (x - m_area.x0); }
    const float *at(int channel, int x, int y) const { return row(channel, y) + (x - m_area.x0); }

    /// Takes what both areas share.
    void copyFrom(const LightTile &other)
    {
        const Rect shared = intersected(m_area, other.m_area);
        for (int y = shared.y0; y < shared.y1; ++y)
            for (int c = 0; c < 3; ++c)
                std::copy_n(other.at(c, shared.x0, y), shared.width(), at(c, shared.x0, y));
    }
    /// The pixel has the same bits in both.
    bool isSameAt(const LightTile &other, int x, int y) const
    {
        return *at(0, x, y) == *other.at(0, x, y) && *at(1, x, y) == *other.at(1, x, y) &&
               *at(2, x, y) == *other.at(2, x, y);
    }
    size_t bytes() const { return m_room * sizeof(float); }

private:
    static constexpr size_t kPadding = 64; ///< floats: SIMD may go past a row's end
    size_t start(int channel, int y) const
    {
        return (size_t(channel) * size_t(m_area.height()) + size_t(y - m_area.y0)) * m_stride;
    }
    Rect m_area;
    size_t m_stride = 0;
    size_t m_room = 0; ///< floats
    Room<float> m_values;
};

} // namespace buttonhole
