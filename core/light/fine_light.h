#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// Sharpness: fine differences of lightness made larger. Strong edges, which have enough of it, and
/// what is as faint as noise take less. Colour follows lightness.
struct Sharpness {
    float amount = 0;   ///< 0..2: so much of the differences is added
    float radiusPx = 1; ///< 0.4..5, px of the photo: standard deviation of what counts as fine

    static constexpr std::string_view kKind = "sharpness";
    static constexpr int kSince = 9;
    static std::span<const Param<Sharpness>> rows();
    int reachPx() const;
    LightChange change(const LightSpace &space) const;
};

/// Where sharpness acts, and how much: grey, white where it adds a 25th of all lightness or more.
/// To be looked at in its place; it is not stored.
struct SharpnessMask : Sharpness {
    static constexpr std::string_view kKind = "sharpness-mask";
    static std::span<const Param<SharpnessMask>> rows();
    LightChange change(const LightSpace &space) const;
};

/// Noise smoothed away where the photo has no edge, apart for lightness and colour.
struct Noise {
    float lightness = 0; ///< 0..1: OKLab L, from 2 px round about; 1 takes noise of 0.05 for none
    float colour = 0;    ///< 0..1: OKLab a and b, from 5 px round about, by the edges of all three

    static constexpr std::string_view kKind = "noise";
    static constexpr int kSince = 9;
    static std::span<const Param<Noise>> rows();
    int reachPx() const;
    LightChange change(const LightSpace &space) const;
};

} // namespace buttonhole
