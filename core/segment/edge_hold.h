#pragma once

#include "base/photo_point.h"
#include "io/photo_levels.h"
#include "segment/held_colours.h"

#include <memory>

namespace buttonhole
{

/// What belongs with the thing under the middle of a brush's tip.
struct HeldTip {
    PhotoPoint centre;
    Rect area;            ///< level-0 px
    Image<uint8_t> share; ///< over `area`, 0..255
};

/// What looks of one stroke learn from each other.
struct HeldStroke {
    std::vector<PhotoPoint> trail; ///< where the tip's middle went; all of that belongs
    HeldColours colours;
};

/// Judges by colour and by the edges crossed on the way from the tip's trail: what that grows to
/// where it differs most from what lies round it. Once the stroke has seen both sides of an edge,
/// their colours have a say. Where nothing under the tip stands out and nothing is known yet, all
/// of it belongs. The edge is that of the photo's own pixels.
/// @param stroke     ends under the tip's middle; colours learn from this look
/// @param radiusPx   of the tip; the answer reaches kHoldReach times as far
/// @param strictness 0..1: 0.5 stops at the edge found, more stops sooner
HeldTip holdToEdges(const PhotoLevels &levels, HeldStroke &stroke, float radiusPx,
                    float strictness);

inline constexpr float kHoldReach = 1.3F;

} // namespace buttonhole
