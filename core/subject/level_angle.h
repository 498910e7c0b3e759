#pragma once

#include "base/radial.h"
#include "io/photo_levels.h"

#include <optional>

namespace buttonhole
{

/// The angle that sets a photo level, found from straight edges (R. Grompone von Gioi et al., "LSD:
/// a line segment detector", IPOL 2012): most of them lie level or upright then.
/// @param distortion of the lens: edges are seen without
/// @return degrees clockwise, -15..15; nothing where edges do not agree
std::optional<float> findLevelAngle(const PhotoLevels &levels, const Radial &distortion = {});

} // namespace buttonhole
