#pragma once

#include "colour/pixel_rows.h"
#include "io/photo_levels.h"

namespace buttonhole
{

/// OKLab of a run of a level's pixels, in rows padded for SIMD.
struct LabRun {
    alignas(64) float L[kRowRun + 64];
    alignas(64) float a[kRowRun + 64];
    alignas(64) float b[kRowRun + 64];

    /// @param n at most kRowRun
    void read(const PhotoLevels &levels, int level, int x, int y, int n)
    {
        std::visit(
            [&](const auto &image) { decodeRow(levels.colour(), image.pixel(x, y), n, L, a, b); },
            levels.level(level));
        labRow(levels.colour().toLms.data(), n, L, a, b);
    }
};

} // namespace buttonhole
