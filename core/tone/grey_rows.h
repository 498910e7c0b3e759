#pragma once

#include "tone/grey_mix.h"

namespace buttonhole
{

// Row functions of the grey mix; rows are padded to whole SIMD vectors (see kRowRun).

inline constexpr int kHueSteps = 1024;

/// Linear RGB to one linear grey.
/// @param weights of Base::Luminance, Average, Blend; for the others the factor of each channel's
///                result in weights[0]
/// @param toLms   row-major 3 x 3, linear RGB to OKLab cones; for Base::Lightness
/// @param y       n values; never negative
void baseRow(GreyMix::Base kind, const float *weights, const float *toLms, const float *r,
             const float *g, const float *b, int n, float *y);

/// Multiplies y by 1 + w * gain(hue), w = s^2 / (s^2 + kHueKnee^2), s = C / (L + kHueFloor) in
/// OKLab: neutrals stay, and noise around them is not lifted. The hue's place in the table is
/// |b| / (|a| + |b|) within its quadrant, which takes no trigonometry.
/// @param gain kHueSteps + 2 entries over the full turn, each >= -1
void hueRow(const float *toLms, const float *gain, const float *r, const float *g, const float *b,
            int n, float *y);
inline constexpr float kHueKnee = 0.10F;
inline constexpr float kHueFloor = 0.06F;

/// Lightness (cube root) of linear values and back.
void lightnessRow(const float *y, int n, float *t);
void linearRow(const float *t, int n, float *y);

/// t += share * (t - (a * t + b)): contrast against an edge-preserving mean. Never negative.
void detailRow(float share, const float *a, const float *b, int n, float *t);

/// Looks t (clamped to 0..1) up in a table of steps + 2 entries, in between linearly.
void tableRow(const float *values, int steps, int n, float *t);

/// t = from + share * (t - from)
void mixRow(float share, const float *from, int n, float *t);

/// Greys with colour of their own, blended with the photo's colour, in OKLab.
struct TintedBlend {
    const float *toLms = nullptr;
    const float *fromLms = nullptr;
    const float *toningL = nullptr; ///< tables over lightness (see ToningCurve)
    const float *toningA = nullptr;
    const float *toningB = nullptr;
    float colourLeft = 0;   ///< 0..1 of the photo's saturation
    bool overKeeps = false; ///< toning goes over the colour too
};
/// @param y     linear grey
/// @param mask  share of colour, uint16 0..65535
/// @param r,g,b linear source RGB in, linear output RGB out; may leave 0..1
void tintedBlendRow(const TintedBlend &blend, const float *y, const uint16_t *mask, int n, float *r,
                    float *g, float *b);

} // namespace buttonhole
