#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// A curve of OKLab lightness through points: black and white stay, five tones between go up or
/// down, and the curve between them is smooth and never turns back.
struct PointCurve {
    float darkest = 0;  ///< -1..1: L 0.1 goes up by 0.2 times it
    float darker = 0;   ///< of L 0.3
    float middle = 0;   ///< of L 0.5
    float lighter = 0;  ///< of L 0.7
    float lightest = 0; ///< of L 0.9

    static constexpr std::string_view kKind = "curve";
    static constexpr int kSince = 13;
    static std::span<const Param<PointCurve>> rows();
    int reachPx() const { return 0; }
    LightChange change(const LightSpace &space) const;
    /// What a lightness becomes: monotone cubic pieces (F. N. Fritsch, R. E. Carlson, "Monotone
    /// piecewise cubic interpolation", 1980); above 1 as far above as it was.
    double at(double L) const;
};

} // namespace buttonhole
