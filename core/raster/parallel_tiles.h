#pragma once

#include "base/rect.h"

#include <functional>

namespace buttonhole
{

/// Side of a tile, in pixels of whatever level is tiled. 256 x 256 x 2 bytes = 128 KiB stays in a
/// core's second-level cache together with the source tile.
inline constexpr int kTileSize = 256;

/// Runs `body` for every index 0 .. count-1, on all cores. This is the only way to threads in the
/// core: no other file includes TBB. Indices depend on the data, never on the number of threads,
/// so one thread and eight give the same bits.
void parallelFor(int count, const std::function<void(int)> &body);

/// Helping threads give way (base/give_way.h) from now on: for a program with a window, whose own
/// thread must not wait for them.
void helpersGiveWay();

/// Runs `body` for each tile of the fixed kTileSize grid that touches `area`, clipped to it.
void parallelTiles(const Rect &area, const std::function<void(const Rect &)> &body);

/// Runs `body` for runs of about `rowsEach` rows of 0 .. rows-1, as [y0, y1).
void parallelRows(int rows, int rowsEach, const std::function<void(int, int)> &body);

} // namespace buttonhole
