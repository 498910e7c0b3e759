#pragma once

#include "base/rect.h"

#include <cstdint>
#include <vector>

namespace buttonhole
{

/// A point between pixels; pixel centres at +0.5.
struct EdgePoint {
    float x = 0;
    float y = 0;
    friend bool operator==(const EdgePoint &, const EdgePoint &) = default;
};

/// An edge with the covered side on its right hand (x right, y down, walking from first to last).
struct EdgeLine {
    std::vector<EdgePoint> points;
    bool isClosed = false; ///< the last point joins the first; otherwise it ends at the border
};

/// Traces where a mask crosses half coverage, by marching squares with linear interpolation;
/// ambiguous squares are cut so that the covered corners stay apart.
/// @param mask  width x height, uint16 0..65535, rows of `width`
/// @param most  stop after about this many points (a mask of noise has no edge worth drawing)
/// Source: W. Lorensen, H. Cline, "Marching Cubes", SIGGRAPH 1987, in two dimensions.
std::vector<EdgeLine> traceEdge(const uint16_t *mask, int width, int height, size_t most = 200000);

/// The line moved to its uncovered side by `distance` px, smoothed over neighbouring points so that
/// pixel corners do not show.
EdgeLine movedOutward(const EdgeLine &line, float distance);

} // namespace buttonhole
