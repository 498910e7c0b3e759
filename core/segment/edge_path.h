#pragma once

#include "base/photo_point.h"
#include "io/photo_levels.h"

#include <memory>
#include <vector>

namespace buttonhole
{

/// Lines that follow the photo's edges from one place to others near by: of all ways through a
/// strip along the straight line, the one that crosses least of what is no edge, strays least and
/// bends least, by dynamic programming. Source: the idea of E. Mortensen, W. Barrett, "Intelligent
/// scissors for image composition", 1995, on a strip as in M. Kass, A. Witkin, D. Terzopoulos,
/// "Snakes", 1988, as A. Amini, T. Weymouth and R. Jain solve it, "Using dynamic programming for
/// solving variational problems in vision", 1990.
class EdgePath
{
public:
    static constexpr float kMissedPx = 5; ///< of the screen: so far a click may be off the edge

    /// Looks over what lies round `from`; some tens of milliseconds.
    /// @param level pyramid level whose pixels count for what is far, one finer for what is near
    EdgePath(const PhotoLevels &levels, const PhotoPoint &from, int level);
    ~EdgePath();
    EdgePath(const EdgePath &) = delete;
    EdgePath &operator=(const EdgePath &) = delete;

    /// The line's corners after `from`, px of the photo. Beyond what was looked over it is
    /// straight. Thread-safe; a few milliseconds.
    /// @param slack px of the photo: how far aside of `at` the line may end, on the edge that it
    ///        follows, for a hand that misses it
    std::vector<PhotoPoint> to(const PhotoPoint &at, float slack = 0) const;

private:
    struct Map;
    PhotoPoint m_from;
    std::vector<std::unique_ptr<Map>> m_maps; ///< the finer one first
};

} // namespace buttonhole
