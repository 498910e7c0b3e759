#pragma once

#include "colour/pixel_rows.h"
#include "raster/light_tile.h"

namespace buttonhole
{

/// A tile's linear light as OKLab (L, a, b in the places of red, green, blue), in place; and back.
/// What is neutral has L alone.
inline void toLab(LightTile &light, const std::array<float, 9> &toLms)
{
    const Rect &area = light.area();
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; x += kRowRun) {
            const int n = std::min(kRowRun, area.x1 - x);
            if (light.isNeutral())
                neutralLabRow(n, light.at(0, x, y));
            else
                exactLabRow(toLms.data(), n, light.at(0, x, y), light.at(1, x, y),
                            light.at(2, x, y));
        }
}

inline void fromLab(LightTile &light, const std::array<float, 9> &fromLms)
{
    const Rect &area = light.area();
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; x += kRowRun) {
            const int n = std::min(kRowRun, area.x1 - x);
            if (light.isNeutral())
                linearOfNeutralLabRow(n, light.at(0, x, y));
            else
                linearOfExactLabRow(fromLms.data(), n, light.at(0, x, y), light.at(1, x, y),
                                    light.at(2, x, y));
        }
}

} // namespace buttonhole
