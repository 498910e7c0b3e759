#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// Colours by tone: what is grey gets hue and chroma by its lightness, between three stops (OKLab L
/// 0.25, 0.55, 0.85; linear in a and b, fading to neutral at black and white). Lightness stays, or
/// is turned over for a negative.
struct ToneColours {
    float strength = 0;          ///< 0..1
    float shadowsHueDeg = 250;   ///< OKLCh
    float shadowsColour = 0.35F; ///< 0..1 of a chroma of 0.15
    float middleHueDeg = 60;
    float middleColour = 0.1F;
    float lightsHueDeg = 80;
    float lightsColour = 0.3F;
    float negative = 0;  ///< 0..1: share of 1 - L
    float spareKept = 1; ///< 0..1: so much less of it on what is kept in colour

    static constexpr std::string_view kKind = "toneColours";
    static constexpr int kSince = 11;
    static std::span<const Param<ToneColours>> rows();
    int reachPx() const { return 0; }
    float spared() const { return spareKept; }
    LightChange change(const LightSpace &space) const;
};

} // namespace buttonhole
