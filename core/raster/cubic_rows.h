#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

namespace buttonhole
{

/// Up to three planes of values; beyond their border the nearest counts.
struct SampledPlanes {
    const float *plane[3] = {};
    int count = 3;
    ptrdiff_t stride = 0; ///< floats from row to row
    int width = 0;
    int height = 0;
};

/// A place, px, on a grid so fine that nobody sees it and that floats hold: then it means the same
/// seen from every pixel.
inline double onGrid(double px)
{
    constexpr double kRounds = double(int64_t(3) << 40); // doubles of this size are 1/2048 apart
    return (px + kRounds) - kRounds;
}

/// What four pixels in a row count at a place `t` (0..1) behind the second of them: see
/// sampleCubic().
std::array<float, 4> cubicShares(float t);

/// Values between pixels, by cubic convolution over 4 x 4 of them (R. Keys, "Cubic convolution
/// interpolation for digital image processing", IEEE Trans. ASSP 29, 1981; a = -1/2).
/// @param x, y places, px from the middle of the planes' first pixel; see onGrid()
/// @param out n values for each plane
void sampleCubic(const SampledPlanes &from, const float *x, const float *y, int n,
                 float *const out[3]);

} // namespace buttonhole
