#pragma once

#include "mask/match_step.h"

#include <mutex>

namespace buttonhole
{

/// How far a Match must reach for pixels to join one of its clicks, be it by way of others: the
/// least over all ways of the greatest on the way (a minimax path, found by a priority flood:
/// Meyer, "Topographic distance and watershed lines", Signal Processing 38, 1994). A changed reach
/// goes on from what was flooded for the one before. Thread-safe.
class ReachMap
{
public:
    /// The one of these clicks and this softness, whatever their reach; the last one made is kept
    /// with the photo.
    static std::shared_ptr<ReachMap> of(const PhotoLevels &levels, int level, const Match &match);

    /// Marks with 255 what is connected (8 neighbours) by pixels covered by kJoins or more, all
    /// else with 0. @param inside of the level's size
    void mark(float reach, Image<uint8_t> &inside);

private:
    ReachMap(const PhotoLevels &levels, int level, const Match &match);
    void readAlone(const PhotoLevels &levels, int level);
    void flood(uint16_t most);
    void reachPixel(uint32_t at, uint16_t by);

    const Match m_match;
    std::mutex m_mutex;
    /// Code of a pixel alone; with kReached: of the best way to it. A pixel of kNever round about.
    Image<uint16_t> m_needed;
    std::vector<std::vector<uint32_t>> m_front; ///< by code: reached, neighbours not yet looked at
    uint16_t m_flooded = 0;                     ///< codes below are done
};

} // namespace buttonhole
