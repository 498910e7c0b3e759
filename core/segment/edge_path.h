#pragma once

#include "base/photo_point.h"
#include "io/photo_levels.h"

#include <memory>
#include <vector>

namespace buttonhole
{

/// Lines that follow the photo's edges from one place to others near by.
/// Source: E. Mortensen, W. Barrett, "Intelligent scissors for image composition", 1995, as OpenCV
/// has it.
class EdgePath
{
public:
    /// Looks over what lies round `from`; some tens of milliseconds.
    /// @param level pyramid level whose pixels count: edges finer than they are not seen
    EdgePath(const PhotoLevels &levels, const PhotoPoint &from, int level);
    ~EdgePath();
    EdgePath(const EdgePath &) = delete;
    EdgePath &operator=(const EdgePath &) = delete;

    /// The line's corners after `from`, px of the photo, `at` the last. Beyond what was looked over
    /// it goes straight on. Thread-safe; quick.
    std::vector<PhotoPoint> to(const PhotoPoint &at) const;

private:
    struct Map;
    PhotoPoint m_from;
    std::unique_ptr<Map> m_map;
};

} // namespace buttonhole
