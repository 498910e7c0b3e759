#pragma once

#include "light/source.h"
#include "mask/keep.h"
#include "render/stage_cache.h"

namespace buttonhole
{

/// The subject's own colour in its edge's partly covered pixels, where the background's has spilt
/// in, and in places marked by hand: for a keep that asks for it, the mean of what it covers fully
/// near by and is not marked, in linear light, as colours mix in a pixel. The pixel keeps its
/// lightness, which is right as it is: the blend with grey takes colour's share of it. Light that
/// is not spilt into stays bit for bit.
/// Source: M. Forte, "Approximate fast foreground colour estimation", 2021: means of subject and
/// background by normalised convolution, then what their mixture leaves unexplained.
class SpillSource final : public ChangedSource
{
public:
    /// All that it is given outlives it. @param cache for the keep's mask; may be null
    SpillSource(SourceRef in, const PhotoLevels &levels, const Keep &keep, StageCache *cache);
    uint64_t content() const override { return m_content; }

private:
    Result<void> fill(int level, LightTile &out, const Run &run) const override;
    const PhotoLevels &m_levels;
    const Keep &m_keep;
    StageCache *m_cache;
    uint64_t m_content;
};

/// How far around a pixel colours are gathered, px of the photo; for edges alone, and for all.
int spillEdgeReachPx(const Keep &keep);
int spillReachPx(const Keep &keep);

} // namespace buttonhole
