#pragma once

#include "document/take.h"
#include "light/source.h"
#include "render/stage_cache.h"

namespace buttonhole
{

bool glows(const Keep &keep); ///< and is on

/// How far a glow shows beyond its keep, px of the photo.
int glowReachPx(const Keep &keep);

/// Light with a keep's glow round it: the light under its mask (or of a colour), spread, added or
/// only lightening, and none of it over the keep itself. All outlive it but the source.
SourceRef withGlow(SourceRef picture, const PhotoLevels &levels, const Keep &keep,
                   StageCache *cache);

} // namespace buttonhole
