#pragma once

#include "raster/image.h"

#include <vector>

namespace buttonhole
{

/// `to` becomes the middle row by the first weight, and pairs on both sides of it by the others, in
/// this order, whatever n is.
/// @param weights of the middle and of `count` pairs
/// @param before,after `count` rows each, the nearest first
void sumPairs(const float *weights, size_t count, const float *middle, const float *const *before,
              const float *const *after, int n, float *to);

/// Symmetric weights along rows and columns, of the middle first.
/// @param in wider than what is returned by weights.size() - 1 on every side
Image<float> summedInside(const Image<float> &in, const std::vector<float> &weights);

} // namespace buttonhole
