#pragma once

#include "base/rect.h"
#include "raster/room.h"

#include <algorithm>
#include <utility>

namespace buttonhole
{

/// Linear light of a part of a level: red, green and blue of its source's space as planes of
/// floats, 1 = white, open above and below. Light without colour does with one plane, which every
/// channel then is. Rows are padded, so that row functions may work on them in place. Moves; copies
/// by copyFrom().
class LightTile
{
public:
    LightTile() = default;
    explicit LightTile(const Rect &where, int planes = kChannels) { setArea(where, planes); }

    const Rect &area() const { return m_area; }
    /// For other pixels from now on, whose values are open; memory is made only to grow.
    void setArea(const Rect &where, int planes = kChannels)
    {
        m_area = where;
        m_planes = planes;
        m_stride = (size_t(std::max(0, where.width())) + kPadding + 15) / 16 * 16;
        const size_t needed = size_t(planes) * planeSize();
        if (needed <= m_room)
            return;
        m_values.reset();
        m_values = roomFor<float>(needed);
        m_room = needed;
    }

    bool isNeutral() const { return m_planes == 1; }
    int planes() const { return m_planes; }
    /// For other values from now on, which are open.
    void setNeutral() { setArea(m_area, 1); }
    /// The same light in three planes, each to be changed by itself.
    void spread()
    {
        if (!isNeutral())
            return;
        LightTile made(m_area);
        made.copyFrom(*this);
        *this = std::move(made);
    }

    /// The row of a y of the level; channel 0..2.
    float *row(int channel, int y) { return m_values.get() + start(channel, y); }
    const float *row(int channel, int y) const { return m_values.get() + start(channel, y); }
    /// The same from an x of the level on.
    float *at(int channel, int x, int y) { return row(channel, y) + (x - m_area.x0); }
    const float *at(int channel, int x, int y) const { return row(channel, y) + (x - m_area.x0); }

    /// Takes what both areas share. The other is neutral where this one is.
    void copyFrom(const LightTile &other)
    {
        const Rect shared = intersected(m_area, other.m_area);
        for (int y = shared.y0; y < shared.y1; ++y)
            for (int c = 0; c < m_planes; ++c)
                std::copy_n(other.at(c, shared.x0, y), shared.width(), at(c, shared.x0, y));
    }
    /// The same, in as few planes as the other; it covers this one.
    void becomePartOf(const LightTile &other)
    {
        setArea(m_area, other.m_planes);
        copyFrom(other);
    }
    /// The pixel has the same bits in both.
    bool isSameAt(const LightTile &other, int x, int y) const
    {
        return *at(0, x, y) == *other.at(0, x, y) && *at(1, x, y) == *other.at(1, x, y) &&
               *at(2, x, y) == *other.at(2, x, y);
    }
    size_t bytes() const { return m_room * sizeof(float); }
    size_t stride() const { return m_stride; } ///< floats from row to row

private:
    static constexpr int kChannels = 3;
    static constexpr size_t kPadding = 64; ///< floats: SIMD may go past a row's end
    size_t planeSize() const { return m_stride * size_t(std::max(0, m_area.height())); }
    size_t start(int channel, int y) const
    {
        const size_t plane = isNeutral() ? 0 : size_t(channel);
        return plane * planeSize() + size_t(y - m_area.y0) * m_stride;
    }
    Rect m_area;
    int m_planes = kChannels;
    size_t m_stride = 0;
    size_t m_room = 0; ///< floats
    Room<float> m_values;
};

} // namespace buttonhole
