#pragma once

#include "tone/grey_mix.h"

#include <vector>

namespace buttonhole
{

inline constexpr int kToningSteps = 512;
/// OKLab chroma that saturation 100 brings to the middle tones.
inline constexpr double kToningChroma = 0.13;

/// Toning by lightness: entry i holds OKLab of the toned grey whose luminance is that of the
/// neutral of lightness i / kToningSteps. Chroma falls to 0 at black and white and stays inside
/// sRGB's gamut.
struct ToningCurve {
    std::vector<float> L, a, b; ///< kToningSteps + 2 entries
};
ToningCurve makeToningCurve(const Toning &toning);

/// A ready tone.
struct ReadyTone {
    const char *name;
    Toning toning;
};
const std::vector<ReadyTone> &readyTones();

} // namespace buttonhole
