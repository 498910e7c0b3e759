#pragma once

#include "base/result.h"

namespace buttonhole
{

/// Where coverage may become fractional: so far to either side of where a mask is a half.
struct EdgeBand {
    static constexpr float kMostFoundPx = 10;
    static constexpr float kWider = 3;

    float px = 0;
    bool isFound = false; ///< as far as the photo's edge is blurred instead, at most kMostFoundPx
    bool hasWide = false; ///< in marked places, kWider times px

    bool isNone() const { return px <= 0 && !isFound; }
    float reach() const
    {
        const float usual = isFound ? kMostFoundPx : px;
        const float wide = hasWide ? kWider * px : 0;
        return usual > wide ? usual : wide;
    }
};

/// Says whether edges can be made soft. Errors: NotFound or Damaged for the edge net. Takes a while
/// at first: not for the UI's thread.
Result<void> softEdgesReady();

} // namespace buttonhole
