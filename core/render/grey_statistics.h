#pragma once

#include "document/take.h"
#include "io/photo_levels.h"

#include <array>

namespace buttonhole
{

/// Share of the photo's chroma by OKLCh hue, one bin per degree, smoothed; the greatest is 1, or
/// all are 0 where the photo has no colour. From a reduced level.
std::array<float, 360> measureHues(const PhotoLevels &levels);

/// How the grey's lightness is spread.
struct ToneHistogram {
    static constexpr int kBins = 128;
    std::array<float, kBins> before{}; ///< share of pixels by lightness before the tone's curve
    std::array<float, kBins> after{};  ///< and in the finished grey
    float clippedBlack = 0; ///< share of pixels that end black (below half a code of 8 bits)
    float clippedWhite = 0;
};
/// @param wholePicture false: weighted by what stays grey
ToneHistogram measureTones(const PhotoLevels &levels, const Take &take, bool wholePicture);

} // namespace buttonhole
