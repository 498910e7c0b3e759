#include "light/coarse_plane.h"

#include "base/each_cpu.h"

#include <vector>

namespace buttonhole
{

namespace
{

BUTTONHOLE_EACH_CPU
void betweenRows(const float *above, const float *below, float share, int n, float *to)
{
    for (int x = 0; x < n; ++x)
        to[x] = above[x] + share * (below[x] - above[x]);
}

/// @param middles one more than there are cells; @param share of the second, `step` values
template <int step>
BUTTONHOLE_INLINED void fillCells(const float *middles, const float *share, int cells, float *to)
{
    for (int c = 0; c < cells; ++c) {
        const float first = middles[c];
        const float more = middles[c + 1] - first;
        for (int i = 0; i < step; ++i)
            to[c * step + i] = first + share[i] * more;
    }
}

BUTTONHOLE_EACH_CPU
void betweenMiddles(const float *middles, const float *share, int step, int cells, float *to)
{
    if (step == 4)
        return fillCells<4>(middles, share, cells, to);
    if (step == 8)
        return fillCells<8>(middles, share, cells, to);
    if (step == 16)
        return fillCells<16>(middles, share, cells, to);
    for (int c = 0; c < cells; ++c)
        for (int i = 0; i < step; ++i)
            to[c * step + i] = middles[c] + share[i] * (middles[c + 1] - middles[c]);
}

/// @param to twice n values
BUTTONHOLE_EACH_CPU
void fillRow(const float *values, int n, float *__restrict to)
{
    for (int i = 0; i < n; ++i) {
        to[2 * i] = values[i];
        to[2 * i + 1] = 0.5F * (values[i] + values[i + 1]);
    }
}

/// Rounded down.
int middleBefore(int place, int step)
{
    return (place + step / 2) / step - 1;
}

} // namespace

Plane CoarsePlane::reduced(const Plane &in, const Rect &area, int step)
{
    Plane out((area.width() + step - 1) / step, (area.height() + step - 1) / step, 1);
    for (int y = 0; y < out.height(); ++y) {
        const int y1 = std::min((y + 1) * step, area.height());
        for (int x = 0; x < out.width(); ++x) {
            const int x1 = std::min((x + 1) * step, area.width());
            float sum = 0;
            for (int j = y * step; j < y1; ++j) {
                const float *row = in.row(j);
                float ofRow = 0;
                for (int i = x * step; i < x1; ++i)
                    ofRow += row[i];
                sum += ofRow;
            }
            out.row(y)[x] = sum / float((y1 - y * step) * (x1 - x * step));
        }
    }
    return out;
}

EnlargedRows::EnlargedRows(const Plane &coarse, const Rect &area, const Rect &part, int step)
    : m_coarse(coarse), m_step(step), m_above(area.y0), m_share(size_t(step)),
      m_middles(size_t(coarse.width()) + 2, 0.0F)
{
    for (int i = 0; i < step; ++i)
        m_share[size_t(i)] = (float(i) + 0.5F) / float(step);
    const int x0 = part.x0 - area.x0;
    m_first = middleBefore(x0, step);
    m_before = x0 - (m_first * step + step / 2);
    m_cells = middleBefore(part.x1 - 1 - area.x0, step) + 1 - m_first;
    m_row.resize(size_t(m_cells) * size_t(step));
}

const float *EnlargedRows::row(int y)
{
    const int place = y - m_above;
    const int above = middleBefore(place, m_step);
    const float share = m_share[size_t(place - (above * m_step + m_step / 2))];
    const int last = m_coarse.height() - 1;
    float *middles = m_middles.data() + 1;
    const int width = m_coarse.width();
    betweenRows(m_coarse.row(std::clamp(above, 0, last)),
                m_coarse.row(std::clamp(above + 1, 0, last)), share, width, middles);
    middles[-1] = middles[0];
    middles[width] = middles[width - 1];
    betweenMiddles(middles + m_first, m_share.data(), m_step, m_cells, m_row.data());
    return m_row.data() + m_before;
}

FilledRows::FilledRows(const Plane &plane, int left, int top, const Rect &part)
    : m_plane(plane), m_left(left), m_top(top), m_part(part),
      m_between(size_t(plane.width()) + 1, 0.0F), m_row(2 * size_t(plane.width()))
{
}

const float *FilledRows::row(int y)
{
    const int width = m_plane.width();
    const int above = (y - m_top) / 2;
    const int below = std::min((y - m_top + 1) / 2, m_plane.height() - 1);
    betweenRows(m_plane.row(above), m_plane.row(below), 0.5F, width, m_between.data());
    m_between[size_t(width)] = m_between[size_t(width) - 1];
    fillRow(m_between.data(), width, m_row.data());
    return m_row.data() + (m_part.x0 - m_left);
}

} // namespace buttonhole
