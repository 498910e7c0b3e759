#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// Light and colour of the photo as a whole: what each pixel becomes by itself. All 0 is as taken.
struct PhotoLight {
    float exposureEv = 0;     ///< -5..5, stops: a factor of linear light
    float contrast = 0;       ///< -1..1, about a middle grey
    float liftShadows = 0;    ///< -1..1, lighter or darker below the middle; black stays
    float holdHighlights = 0; ///< -1..1, darker or lighter above it, brighter than white included
    float blackPoint = 0;     ///< -1..1: what becomes black, 1 = OKLab L 0.3; below 0 lifts black
    float whitePoint = 0;     ///< -1..1: what becomes white, 1 = OKLab L 0.7; below 0 greys white
    float temperature = 0;    ///< -1..1, towards blue or amber: 1 = 200 mired
    float greenMagenta = 0;   ///< -1..1, towards green or magenta: 1 = 0.03 across the locus (Duv)
    float saturation = 0;     ///< -1..1: factor of OKLab chroma, 0..2
    float faintColours = 0;   ///< -1..1: the same where chroma is low

    static constexpr std::string_view kKind = "light";
    static constexpr int kSince = 9;
    static std::span<const Param<PhotoLight>> rows();
    int reachPx() const { return 0; }
    /// White balance by Bradford's cones, log gains linear in mired (so Planck's law goes, nearly);
    /// exposure; then in OKLab a curve of lightness, which chroma follows, and chroma's own
    /// factors.
    LightChange change(const LightSpace &space) const;

    friend bool operator==(const PhotoLight &, const PhotoLight &) = default;
};

/// Made so that this light is neutral, whatever else is set. @param rgb linear, of the space
PhotoLight neutralisedAt(PhotoLight light, const Vector3 &rgb, const LightSpace &space);

/// Exposure, points and white balance as they suit the photo as taken; the rest stays as it is.
/// At most 0.1 % more of the photo is clipped at either end than was.
PhotoLight autoLight(const PhotoLevels &levels, PhotoLight light = {});

} // namespace buttonhole
