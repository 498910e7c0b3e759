#include "light/source.h"

#include "io/lab_row.h"

namespace buttonhole
{

Result<void> PhotoSource::fill(int level, LightTile &out, const Run &run) const
{
    const Rect &area = out.area();
    for (int y = area.y0; y < area.y1; ++y) {
        if (run.stopped())
            return Error{ErrorKind::Cancelled, m_levels.photo().path, {}};
        for (int x = area.x0; x < area.x1; x += kRowRun)
            readLightRow(m_levels, level, x, y, std::min(kRowRun, area.x1 - x), out.at(0, x, y),
                         out.at(1, x, y), out.at(2, x, y));
    }
    return {};
}

Rect widenedBy(const Rect &area, int reachPx, int level, const Rect &picture)
{
    if (reachPx <= 0)
        return area;
    const int by = std::max(1, (reachPx + (1 << level) - 1) >> level);
    return intersected({area.x0 - by, area.y0 - by, area.x1 + by, area.y1 + by}, picture);
}

} // namespace buttonhole
