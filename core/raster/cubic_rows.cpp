#include "raster/cubic_rows.h"

#include "base/each_cpu.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace buttonhole
{

namespace
{

/// Four floats at once: what every processor that this is built for has.
using V4 = float __attribute__((vector_size(16)));

BUTTONHOLE_INLINED V4 loaded(const float *from)
{
    V4 out;
    std::memcpy(&out, from, sizeof out);
    return out;
}

BUTTONHOLE_INLINED V4 allOf(float v)
{
    return V4{v, v, v, v};
}

/// Of the pixel before a place, the two round it and the one after.
BUTTONHOLE_INLINED V4 cubicWeights(float t)
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

/// Where a place's patch begins, and what each of its columns and rows counts.
struct Patch {
    int left;
    int top;
    V4 across;
    V4 down;
};

BUTTONHOLE_INLINED Patch patchAt(const SampledPlanes &from, float x, float y)
{
    constexpr float kFar = 3; // outside is as good as any farther
    const float px = std::clamp(x, -kFar, float(from.width) + kFar);
    const float py = std::clamp(y, -kFar, float(from.height) + kFar);
    const int column = int(px + kFar) - int(kFar); // rounded down
    const int row = int(py + kFar) - int(kFar);
    return {column - 1, row - 1, cubicWeights(px - float(column)), cubicWeights(py - float(row))};
}

BUTTONHOLE_INLINED bool isInside(const SampledPlanes &from, const Patch &patch)
{
    return patch.left >= 0 && patch.top >= 0 && patch.left + 4 <= from.width &&
           patch.top + 4 <= from.height;
}

/// The columns of a patch, each by its weight.
BUTTONHOLE_INLINED V4 columns(const Patch &patch, const float *at, ptrdiff_t stride)
{
    return (allOf(patch.down[0]) * loaded(at) + allOf(patch.down[1]) * loaded(at + stride) +
            allOf(patch.down[2]) * loaded(at + 2 * stride) +
            allOf(patch.down[3]) * loaded(at + 3 * stride)) *
           patch.across;
}

/// Sums of four vectors, each added up as (0 + 2) + (1 + 3).
BUTTONHOLE_INLINED V4 sums(V4 a, V4 b, V4 c, V4 d)
{
    using Lanes = int __attribute__((vector_size(16)));
    const V4 ab =
        __builtin_shuffle(a, b, Lanes{0, 4, 1, 5}) + __builtin_shuffle(a, b, Lanes{2, 6, 3, 7});
    const V4 cd =
        __builtin_shuffle(c, d, Lanes{0, 4, 1, 5}) + __builtin_shuffle(c, d, Lanes{2, 6, 3, 7});
    return __builtin_shuffle(ab, cd, Lanes{0, 1, 4, 5}) +
           __builtin_shuffle(ab, cd, Lanes{2, 3, 6, 7});
}

} // namespace

std::array<float, 4> cubicShares(float t)
{
    const V4 shares = cubicWeights(t);
    return {shares[0], shares[1], shares[2], shares[3]};
}

BUTTONHOLE_EACH_CPU
void sampleCubic(const SampledPlanes &from, const float *x, const float *y, int n,
                 float *const out[3])
{
    float copied[16];
    int i = 0;
    while (i < n) {
        const Patch first = patchAt(from, x[i], y[i]);
        if (i + 4 <= n) {
            const Patch four[4] = {first, patchAt(from, x[i + 1], y[i + 1]),
                                   patchAt(from, x[i + 2], y[i + 2]),
                                   patchAt(from, x[i + 3], y[i + 3])};
            if (isInside(from, four[0]) && isInside(from, four[1]) && isInside(from, four[2]) &&
                isInside(from, four[3])) {
                for (int c = 0; c < from.count; ++c) {
                    V4 of[4];
                    for (int k = 0; k < 4; ++k)
                        of[k] = columns(four[k],
                                        from.plane[c] + four[k].top * from.stride + four[k].left,
                                        from.stride);
                    const V4 made = sums(of[0], of[1], of[2], of[3]);
                    std::memcpy(out[c] + i, &made, sizeof made);
                }
                i += 4;
                continue;
            }
        }
        for (int c = 0; c < from.count; ++c) {
            copyPatch(from.plane[c], from, first.left, first.top, copied);
            const V4 sum = columns(first, copied, 4);
            out[c][i] = (sum[0] + sum[2]) + (sum[1] + sum[3]);
        }
        ++i;
    }
}

} // namespace buttonhole
