#pragma once

#include "colour/pixel_rows.h"
#include "raster/image.h"
#include "raster/light_tile.h"

namespace buttonhole
{

/// Calls `act(n, r, g, b)` with every run of a tile's pixels, as row functions take them.
template <class Act>
void forEachRun(LightTile &light, const Act &act)
{
    const Rect &area = light.area();
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; x += kRowRun)
            act(std::min(kRowRun, area.x1 - x), light.at(0, x, y), light.at(1, x, y),
                light.at(2, x, y));
}

/// A channel's plane of a tile's area.
inline Image<float> planeOf(const LightTile &light, int channel)
{
    const Rect &area = light.area();
    Image<float> out(area.width(), area.height(), 1);
    for (int y = area.y0; y < area.y1; ++y)
        std::copy_n(light.row(channel, y), area.width(), out.row(y - area.y0));
    return out;
}

/// A tile's linear light as OKLab (L, a, b in the places of red, green, blue), in place; and back.
/// What is neutral has L alone.
inline void toLab(LightTile &light, const std::array<float, 9> &toLms)
{
    forEachRun(light, [&](int n, float *r, float *g, float *b) {
        light.isNeutral() ? neutralLabRow(n, r) : exactLabRow(toLms.data(), n, r, g, b);
    });
}

inline void fromLab(LightTile &light, const std::array<float, 9> &fromLms)
{
    forEachRun(light, [&](int n, float *L, float *a, float *b) {
        light.isNeutral() ? linearOfNeutralLabRow(n, L)
                          : linearOfExactLabRow(fromLms.data(), n, L, a, b);
    });
}

} // namespace buttonhole
