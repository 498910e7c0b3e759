#pragma once

#include "light/source.h"
#include "render/stage_cache.h"

namespace buttonhole
{

/// The same light, by whole tiles that are kept for the next read; `source` itself without a cache.
/// The cache outlives it.
SourceRef cached(SourceRef source, StageCache *cache);

} // namespace buttonhole
