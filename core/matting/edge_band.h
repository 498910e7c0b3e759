#pragma once

namespace buttonhole
{

/// Where coverage may become fractional: so far to either side of where a mask is a half.
struct EdgeBand {
    static constexpr float kMostFoundPx = 10;
    static constexpr float kWider = 3;

    float px = 0;
    bool isFound = false; ///< as far as the photo's edge is blurred instead, at most mostFoundPx
    bool hasWide = false; ///< in marked places, kWider times px
    float mostFoundPx = kMostFoundPx;

    bool isNone() const { return px <= 0 && !isFound; }
    float reach() const
    {
        const float usual = isFound ? mostFoundPx : px;
        const float wide = hasWide ? kWider * px : 0;
        return usual > wide ? usual : wide;
    }
};

} // namespace buttonhole
