#pragma once

#include "tone/grey_mix.h"

#include <vector>

namespace buttonhole
{

inline constexpr int kToneSteps = 1024;

/// The curve of a tone without its local parts: entry i is the lightness that i / kToneSteps
/// becomes. Never falls; linear interpolation between entries is within 2e-6.
std::vector<float> makeToneCurve(const Tone &tone);
/// One value of it, exact.
double toneAt(const Tone &tone, double lightness);

} // namespace buttonhole
