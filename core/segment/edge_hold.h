#pragma once

#include "base/photo_point.h"
#include "io/photo_levels.h"

#include <memory>

namespace buttonhole
{

/// What belongs with the thing under the middle of a brush's tip.
struct HeldTip {
    PhotoPoint centre;
    Rect area;            ///< level-0 px
    Image<uint8_t> share; ///< over `area`, 0..255
};

/// Judges by colour and by the edges crossed on the way from the tip's middle: what the middle
/// grows to where it differs most from what lies round it. Where nothing under the tip stands out,
/// all of it belongs. The edge is that of the photo's own pixels.
/// @param radiusPx   of the tip; the answer reaches kHoldReach times as far
/// @param strictness 0..1: 0.5 stops at the edge found, more stops sooner
HeldTip holdToEdges(const PhotoLevels &levels, const PhotoPoint &centre, float radiusPx,
                    float strictness);

inline constexpr float kHoldReach = 1.3F;

} // namespace buttonhole
