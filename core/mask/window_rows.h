#pragma once

#include <cstddef>
#include <cstdint>

namespace buttonhole
{

struct SoftRange;

// Soft ranges over rows of OKLab. Rows are padded to a multiple of 64 values, which are read and
// written too. Coverage is 0..1.

/// out = range.at(value)
void softRow(const SoftRange &range, const float *value, int n, float *out);

/// A part of OKLCh as rows are compared with it.
struct RangeRow {
    const SoftRange *chroma;
    const SoftRange *lightness;
    const float *hue; ///< coverage over kWindowHueSteps of the turn, and two values more
};
/// Of the turn |b| / (|a| + |b|), counted on through the quadrants to 4.
inline constexpr int kWindowHueSteps = 1440;

/// @param followsShading chroma is compared as it would be at the range's middle lightness
void windowRow(const RangeRow &range, bool followsShading, const RangeRow *excluded,
               size_t excludedCount, const float *L, const float *a, const float *b, int n,
               float *out);

/// The least distance to any of some colours, lightness counting by `lightnessShare`.
/// @param colours count times L, a, b
void nearestRow(const float *colours, size_t count, float lightnessShare, const float *L,
                const float *a, const float *b, int n, float *out);

/// On which side a pixel is by its distances: 1 at what is near, 0 at what is away, a half midway,
/// soft over `border` of their sum.
void sideRow(float border, const float *near, const float *away, int n, float *out);

/// Coverage as mask values, exactly n of them.
void maskRow(const float *coverage, int n, uint16_t *out);

} // namespace buttonhole
