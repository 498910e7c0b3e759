#pragma once

#include "base/run.h"
#include "io/photo_levels.h"

#include <vector>

namespace buttonhole
{

/// Boxes round what stands out in a photo, surely enough to be framed: all of it, then its upper
/// middle, where heads are; none where nothing does. Errors: NotFound, Damaged (models); Cancelled.
Result<std::vector<Rect>> findWhatStandsOut(const PhotoLevels &levels, const Run &run = {});

/// Crops that hold a subject well, the best first, none like another: all of it with room round it,
/// on a third or in the middle, nothing much cut by the sides.
/// @param subjects boxes round it, px of the photo: the next counts where the one before leaves
/// room
///                 for fewer than three
/// @param ratio   width to height; 0: any of the common ones
std::vector<Rect> findCropIdeas(const PhotoLevels &levels, const std::vector<Rect> &subjects,
                                double ratio, size_t most = 5);

} // namespace buttonhole
