#include "raster/cubic_rows.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace buttonhole
{

namespace
{

/// Four floats at once: what every processor that this is built for has.
using V4 = float __attribute__((vector_size(16)));

V4 loaded(const float *from)
{
    V4 out;
    std::memcpy(&out, from, sizeof out);
    return out;
}

V4 allOf(float v)
{
    return V4{v, v, v, v};
}

/// Of the pixel before a place, the two round it and the one after.
V4 cubicWeights(float t)
{
    constexpr V4 kCube{-0.5F, 1.5F, -1.5F, 0.5F};
    constexpr V4 kSquare{1, -2.5F, 2, -0.5F};
    constexpr V4 kOne{-0.5F, 0, 0.5F, 0};
    constexpr V4 kNone{0, 1, 0, 0};
    const V4 at = allOf(t);
    return ((kCube * at + kSquare) * at + kOne) * at + kNone;
}

/// The patch at a border, the nearest pixels repeated.
void copyPatch(const float *plane, const SampledPlanes &from, int left, int top, float *to)
{
    for (int j = 0; j < 4; ++j)
        for (int i = 0; i < 4; ++i)
            to[4 * j + i] = plane[std::clamp(top + j, 0, from.height - 1) * from.stride +
                                  std::clamp(left + i, 0, from.width - 1)];
}

} // namespace

void sampleCubic(const SampledPlanes &from, const float *x, const float *y, int n,
                 float *const out[3])
{
    float patch[16];
    constexpr float kFar = 3; // outside is as good as any farther
    const auto farRight = float(from.width) + kFar;
    const auto farDown = float(from.height) + kFar;
    for (int i = 0; i < n; ++i) {
        const float px = std::clamp(x[i], -kFar, farRight);
        const float py = std::clamp(y[i], -kFar, farDown);
        const int column = int(px + kFar) - int(kFar); // rounded down
        const int row = int(py + kFar) - int(kFar);
        const int left = column - 1;
        const int top = row - 1;
        const V4 across = cubicWeights(px - float(column));
        const V4 down = cubicWeights(py - float(row));
        const bool isInside =
            left >= 0 && top >= 0 && left + 4 <= from.width && top + 4 <= from.height;
        for (int c = 0; c < from.count; ++c) {
            const float *at = patch;
            ptrdiff_t stride = 4;
            if (isInside) {
                at = from.plane[c] + top * from.stride + left;
                stride = from.stride;
            } else {
                copyPatch(from.plane[c], from, left, top, patch);
            }
            const V4 sum = (allOf(down[0]) * loaded(at) + allOf(down[1]) * loaded(at + stride) +
                            allOf(down[2]) * loaded(at + 2 * stride) +
                            allOf(down[3]) * loaded(at + 3 * stride)) *
                           across;
            out[c][i] = (sum[0] + sum[1]) + (sum[2] + sum[3]);
        }
    }
}

} // namespace buttonhole
