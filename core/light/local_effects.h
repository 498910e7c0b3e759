#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// A veil of air before the picture, neutral, mixed in by OKLab: black becomes `amount` of its
/// lightness, and contrast and chroma go down by that share.
struct Fog {
    float amount = 0;       ///< 0..1
    float lightness = 0.8F; ///< 0.3..1, OKLab L of the veil

    static constexpr std::string_view kKind = "fog";
    static constexpr int kSince = 10;
    static std::span<const Param<Fog>> rows();
    int reachPx() const { return 0; }
    LightChange change(const LightSpace &space) const;
};

/// Differences of lightness between neighbours made larger (bite) or smaller (calm), where there is
/// no strong edge, so that none gets a rim. Colour follows lightness.
struct Texture {
    float fine = 0;   ///< -1..1: of what is some 3 px wide; -1 takes all of it
    float coarse = 0; ///< -1..1: of what is some 40 px wide

    static constexpr std::string_view kKind = "texture";
    static constexpr int kSince = 10;
    static std::span<const Param<Texture>> rows();
    int reachPx() const;
    int readsAroundPx() const;
    LightChange change(const LightSpace &space) const;
};

/// A Gaussian mean of linear light.
struct Blur {
    float radiusPx = 0; ///< 0..60, px of the photo: standard deviation

    static constexpr std::string_view kKind = "blur";
    static constexpr int kSince = 10;
    static std::span<const Param<Blur>> rows();
    int reachPx() const;
    int readsAroundPx() const;
    LightChange change(const LightSpace &space) const;
};

} // namespace buttonhole
