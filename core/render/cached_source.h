#pragma once

#include "light/source.h"
#include "render/stage_cache.h"

namespace buttonhole
{

/// How often what reads a source reads the same of it in one pass over a picture.
enum class ReadAgain {
    Never,
    OfCoarser, ///< it looks around at coarser levels, and only there
    Always,
};

/// The same light, by whole tiles that are kept for the next read; `source` itself without a cache,
/// or where in one pass nothing reads it twice. The cache outlives it.
SourceRef cached(SourceRef source, StageCache *cache, ReadAgain again = ReadAgain::Always);

} // namespace buttonhole
