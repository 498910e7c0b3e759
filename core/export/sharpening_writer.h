#pragma once

#include "io/decoded.h"

#include <memory>

namespace buttonhole
{

/// Sharpens rows of RGB for the size that they leave in, on their way to another writer: fine
/// differences of lightness (to the mean of 3 x 3 px, weighted 1 2 1) are raised, all three
/// channels by the same, so that what is grey stays grey.
/// @param width px; @param bits 8 or 16; @param amount 0..1
std::unique_ptr<PictureWriter> makeSharpeningWriter(PictureWriter &to, int width, int bits,
                                                    float amount);

} // namespace buttonhole
