#pragma once

#include <cstdint>

namespace buttonhole
{

/// A round tip across one row of pixels.
struct DabRow {
    float firstDx = 0;   ///< x of the first pixel's centre minus the dab's centre, px
    float dySquared = 0; ///< squared distance of the row's centres from the dab's centre, px^2
    float outer = 0;     ///< radius where coverage ends, px
    float perPx = 0;     ///< 1 / width of the falloff
    float flow = 0;      ///< 0..1
};

/// Lays one dab over a row of a stroke's build-up: build += (1 - build) * flow * s(t), with
/// s(t) = 3t^2 - 2t^3 of t = (outer - distance) * perPx cut to 0..1.
/// @param build n values, uint16 0..65535
void layDabRow(const DabRow &dab, uint16_t *build, int n);

/// Raises a limit to a stroke's coverage: limit = max(limit, build * opacity).
void raiseRow(const uint16_t *build, float opacity, uint16_t *limit, int n);
/// Lowers it to the complement: limit = min(limit, 65535 - build * opacity).
void lowerRow(const uint16_t *build, float opacity, uint16_t *limit, int n);

} // namespace buttonhole
