#pragma once

#include "base/photo_point.h"
#include "io/photo_levels.h"
#include "segment/held_colours.h"

#include <deque>
#include <memory>
#include <vector>

namespace buttonhole
{

/// What belongs with the thing under the middle of a brush's tip.
struct HeldTip {
    PhotoPoint centre;
    Rect area;            ///< level-0 px
    Image<uint8_t> share; ///< over `area`, 0..255
};

/// A stroke of a brush that holds to edges. Each look judges what is under the tip by colour and by
/// the edges crossed on the way from the tip's trail: what that grows to where it differs most from
/// what lies round it. Where nothing under the tip stands out and nothing is known yet, all of it
/// belongs. The edge is that of the photo's own pixels.
///
/// Looks near each other share what they learn of colours. When one is taken, what comes next is
/// not known: it says what surely belongs; once the tip has moved on, it says what else does.
class HeldStroke
{
public:
    static constexpr float kReach = 1.3F; ///< answers reach so many radii
    static constexpr size_t kAhead = 3;   ///< looks that one waits for before it is settled

    /// @param levels     must outlive it
    /// @param radiusPx   of the tip
    /// @param strictness 0..1: 0.5 stops at the edge found, more stops sooner
    HeldStroke(const PhotoLevels &levels, float radiusPx, float strictness);
    ~HeldStroke();
    HeldStroke(const HeldStroke &) = delete;
    HeldStroke &operator=(const HeldStroke &) = delete;

    /// The tip's middle went there: that belongs.
    void moveTo(const PhotoPoint &to) { m_trail.push_back(to); }
    /// What surely belongs where the tip is now. After moveTo().
    HeldTip look();
    /// What else belongs where the oldest look was that is not settled yet: share beyond its first
    /// answer. After look(), once for each.
    HeldTip settle();

private:
    struct Look;
    Image<uint8_t> answerOf(const Look &look, const HeldColours &colours, float bias) const;

    const PhotoLevels &m_levels;
    const float m_radiusPx;
    const float m_strictness;
    std::vector<PhotoPoint> m_trail;
    std::deque<std::unique_ptr<const Look>> m_looks; ///< not settled yet, oldest first
    HeldColours m_learnt;                            ///< up to the last look
};

} // namespace buttonhole
