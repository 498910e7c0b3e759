#pragma once

#include "light/source.h"
#include "render/stage_cache.h"

namespace buttonhole
{

/// The same light, by whole tiles that are kept for the next read; `source` itself without a cache,
/// or where in one pass nothing reads it twice. The cache outlives it.
/// @param isReadAgain what reads it looks around, or reads it more than once
SourceRef cached(SourceRef source, StageCache *cache, bool isReadAgain = true);

} // namespace buttonhole
