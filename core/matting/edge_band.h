#pragma once

#include "base/result.h"

namespace buttonhole
{

/// Where coverage may become fractional: so far to either side of where a mask is a half.
struct EdgeBand {
    static constexpr float kMostFoundPx = 10;
    /// Times px, so far is it open: of a mask that is wrong by px, what is thin may be gone.
    static constexpr float kOpen = 2;
    static constexpr float kWider = 3;

    float px = 0;         ///< so far the mask's edge may be from the true one
    bool isFound = false; ///< as far as the photo's edge is blurred instead, at most kMostFoundPx
    bool hasWide = false; ///< in marked places, kWider times px

    bool isNone() const { return px <= 0 && !isFound; }
    float reach() const
    {
        const float usual = isFound ? kMostFoundPx : kOpen * px;
        const float wide = hasWide ? kWider * px : 0;
        return usual > wide ? usual : wide;
    }
};

/// Says whether edges can be made soft. Errors: NotFound or Damaged for the edge net. Takes a while
/// at first: not for the UI's thread.
Result<void> softEdgesReady();

} // namespace buttonhole
