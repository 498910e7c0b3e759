#pragma once

#include "base/param.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace buttonhole
{

/// A point of the hue curve.
struct HuePoint {
    float hueDeg = 0;    ///< OKLCh hue, 0..360
    float value = 0;     ///< -100..100: how much the grey of that hue is lowered or lifted
    float widthDeg = 40; ///< kLeastHueWidth..180: how far to either side it reaches
    friend bool operator==(const HuePoint &, const HuePoint &) = default;
};
inline constexpr float kLeastHueWidth = 15;

/// A coloured glass in front of the lens.
enum class Glass { None, Yellow, Orange, Red, Green, Blue };

/// A point of the free tone curve: lightness in, lightness out, both 0..1.
struct CurvePoint {
    float x = 0;
    float y = 0;
    friend bool operator==(const CurvePoint &, const CurvePoint &) = default;
};

/// Tones of the grey. Lightness is OKLab's L of the grey, 0..1 (the cube root of luminance).
struct Tone {
    float black = 0;               ///< 0..0.5: lightness that becomes black
    float middle = 0.5F;           ///< 0.1..0.9: place between black and white that becomes 0.5
    float white = 1;               ///< 0.5..1: lightness that becomes white
    float contrast = 0;            ///< -100..100
    float pivot = 0.5F;            ///< 0.1..0.9: lightness that contrast leaves where it is
    float highlights = 0;          ///< -100..100
    float shadows = 0;             ///< -100..100
    std::vector<CurvePoint> curve; ///< inner and end points by rising x; empty: a straight line
    float local = 0;               ///< -100..100: contrast over 2 % of the long edge
    float fine = 0;                ///< -100..100: contrast over 0.25 % of the long edge
    friend bool operator==(const Tone &, const Tone &) = default;
    bool isPlainCurve() const; ///< points, contrast, highlights, shadows and curve change nothing
};

/// A colour laid over the grey at its own luminance.
struct Toning {
    float shadowHueDeg = 60;    ///< OKLCh
    float shadowSaturation = 0; ///< 0..100
    float highlightHueDeg = 60;
    float highlightSaturation = 0;
    float balance = 0;      ///< -100..100: the shadows' colour reaches further at -100
    bool overKeeps = false; ///< tone the kept colours too
    friend bool operator==(const Toning &, const Toning &) = default;
    bool isOff() const { return shadowSaturation <= 0 && highlightSaturation <= 0; }
};

/// How colours become greys. Everything that decides the grey of a pixel belongs in here, so that
/// the renderer, Auto and the on-picture drag share one definition. It works from the photo's full
/// colours, in this order: glass, base, hue curve, local contrast, tone, strength, colour left,
/// toning.
struct GreyMix {
    /// How three channels of linear light become one. All leave neutrals where they are.
    enum class Base {
        Luminance, ///< CIE Y
        Lightness, ///< the grey of the same OKLab L
        Average,   ///< of the channels
        Extremes,  ///< mean of the lightest and the darkest channel
        Blend,     ///< `blend` of the channels
    } base = Base::Luminance;
    std::array<float, 3> blend{0.30F, 0.59F, 0.11F}; ///< red, green, blue, each -2..2
    bool keepsTotal = true;                          ///< scale the blend's sum to 1
    std::vector<HuePoint> hue;                       ///< by rising hue
    Glass glass = Glass::None;
    float glassStrength = 1; ///< 0..2: thickness of the glass
    Tone tone;
    Toning toning;
    float colourLeft = 0; ///< 0..1
    std::string look;     ///< the name of the look it started from; empty: none
    float strength = 1;   ///< 0..1: of the whole mix, 0 = plain luminance

    friend bool operator==(const GreyMix &, const GreyMix &) = default;
    /// Equal for equal mixes; names do not count.
    uint64_t content() const;
    /// The same for what decides luminance: all but toning and colour left.
    uint64_t greyContent() const;
    /// The same for what comes before local contrast: base, glass and hue curve.
    uint64_t colourContent() const;
    /// Plain luminance.
    bool isPlain() const;
    /// The grey depends on more than the pixel: local or fine contrast.
    bool hasMargin() const { return strength > 0 && (tone.local != 0 || tone.fine != 0); }
    bool isTinted() const { return colourLeft > 0 || (strength > 0 && !toning.isOff()); }
};

/// Every number of a mix but those of its curves' points.
std::span<const Param<GreyMix>> greyParams();

/// The mix with all numbers in their ranges and points in order.
/// Errors: InvalidArgument for what is not a number or out of range, named in the subject.
Result<void> check(const GreyMix &mix);

/// The blend as it is used: its sum is 1 where keepsTotal asks and the sum is not near 0.
std::array<float, 3> effectiveBlend(const GreyMix &mix);

} // namespace buttonhole
