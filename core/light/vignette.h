#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// The picture darker, or lighter, towards its border: of the finish, so it follows the crop.
struct Vignette {
    float amount = 0;         ///< -1 darker .. 1 lighter: 1 is 2.5 stops in the corners
    float midpoint = 0.5F;    ///< 0..1 of the way from the middle to the corners: half of it
    float roundness = 0;      ///< -1 as the frame .. 0 an ellipse in it .. 1 a circle
    float feather = 0.7F;     ///< 0..1: over how much of the way it comes
    float holdHighlights = 0; ///< 0..1: so much less of it where there is light
    float spareKept = 0;      ///< 0..1: so much less of it on what is kept in colour

    static constexpr std::string_view kKind = "vignette";
    static constexpr int kSince = 10;
    static std::span<const Param<Vignette>> rows();
    int reachPx() const { return 0; }
    float spared() const { return spareKept; }
    LightChange change(const LightSpace &space) const;
};

} // namespace buttonhole
