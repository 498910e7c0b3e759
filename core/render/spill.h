#pragma once

#include "document/take.h"
#include "render/stage_cache.h"

namespace buttonhole
{

/// The subject's own colour in its edge's partly covered pixels, where the background's has spilt
/// in, and in places marked by hand: for each keep that asks for it, the mean of what it covers
/// fully near by and is not marked, in linear light, as colours mix in a pixel. The pixel keeps its
/// lightness, which is right as it is: the blend with grey takes colour's share of it.
/// Source: M. Forte, "Approximate fast foreground colour estimation", 2021: means of subject and
/// background by normalised convolution, then what their mixture leaves unexplained.
class Spill
{
public:
    /// @param area pixels of that level; @param owner area.area() values, see combinedMask()
    Spill(const PhotoLevels &levels, const Take &take, int level, const Rect &area,
          const uint16_t *mask, const uint16_t *owner, StageCache *cache);

    bool isNowhere() const { return m_share.empty(); }
    bool isPulled(int row, int x) const
    {
        return m_share[size_t(row) * size_t(m_width) + size_t(x)] > 0;
    }
    /// Pulls OKLab's a and b of a row of the area to the subject's, L left alone.
    void apply(int row, int n, float *a, float *b) const;

    static bool isAsked(const Take &take);
    /// How far around a pixel colours are gathered, px of the photo; for edges alone, and for all.
    static int edgeReachPx(const Keep &keep);
    static int reachPx(const Keep &keep);

private:
    int m_width = 0;
    std::vector<float> m_share; ///< 0..1 of the way; empty: nowhere
    std::vector<float> m_a;
    std::vector<float> m_b;
};

} // namespace buttonhole
