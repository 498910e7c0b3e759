#pragma once

#include "base/param.h"
#include "base/photo_point.h"
#include "base/run.h"
#include "io/photo_levels.h"
#include "raster/image.h"
#include "raster/mask_plane.h"

#include <memory>
#include <optional>
#include <vector>

namespace buttonhole
{

/// A click (one point) or a loose stroke over what belongs to a region, or what does not.
struct RegionMark {
    std::vector<PhotoPoint> points;
    float radiusPx = 6;   ///< of the stroke, px of the photo
    bool isLeave = false; ///< this is not part of it
    friend bool operator==(const RegionMark &, const RegionMark &) = default;
};

/// What was asked for: all that a region is solved from.
struct RegionAsk {
    std::vector<RegionMark> marks;
    std::optional<Rect> box; ///< loosely round the whole of it, px of the photo
    float reach = 0;         ///< -1 smaller .. 1 larger
    friend bool operator==(const RegionAsk &, const RegionAsk &) = default;
};
std::span<const Param<RegionMark>> regionMarkParams();
std::span<const Param<RegionAsk>> regionAskParams();

/// Evidence from elsewhere of what belongs to the subject, e.g. from a net.
struct RegionPrior {
    Rect area;             ///< px of the photo
    Image<float> inside;   ///< 0..1 over `area`, of any size
    float trust = 0;       ///< 0..1
    bool isAnswer = false; ///< nothing else is asked: only the edge is sought
};
using RegionPriors = std::vector<std::shared_ptr<const RegionPrior>>;

/// Says whether there is anything to grow from: a keep mark, or a box.
bool isSolvable(const RegionAsk &ask);
/// What of it lies on a photo: a take may come from a larger one. The box is cut at the border, or
/// gone where nothing is left of it; marks that touch no pixel are gone.
RegionAsk within(const Rect &photo, RegionAsk ask);

/// Grows regions from marks to the edges of the thing that they lie on. Solving the same ask again
/// with one mark more takes up what was found before, so one solver is kept while marks are
/// made; the answer does not depend on that. Not thread-safe.
///
/// Method: evidence from the colours of marks and of what lies far from them, and from geodesic
/// distances to both (B. Price, B. Morse, S. Cohen, "Geodesic graph cut for interactive image
/// segmentation", 2010), cut as a graph at reduced size. A further mark changes what lies nearer to
/// it than to the marks before, as far as it is the same thing: by geodesic distance, or by
/// likeness. The edge is then sought again in a narrow band at each finer level
/// (H. Lombaert et al., "A multilevel banded graph cuts method for fast image segmentation", 2005),
/// where a mark changed it: elsewhere it stays as it was, to the pixel.
class RegionSolver
{
public:
    /// Evidence for all that is solved after this. After the box or the first mark it says less:
    /// what it is surer of there than of the marked place.
    /// @param added by marks: what a further keep mark adds as it is; null, or missing: what grows
    void setPriors(RegionPriors priors, RegionPriors added = {});

    /// @param finest pyramid level at which the edge is sought last: 0 is exact; coarser is sooner,
    ///               and its edges are stairs of 2^finest px
    /// @return coverage of the photo's size
    /// Errors: InvalidArgument where nothing is asked for that lies on the photo; Cancelled.
    Result<MaskPlane> solve(const PhotoLevels &levels, const RegionAsk &ask, const Run &run = {},
                            int finest = 0);

private:
    struct Known;
    Result<std::shared_ptr<Known>> knownFor(const PhotoLevels &levels, const RegionAsk &ask,
                                            const Run &run) const;
    /// Where a prior is the answer. @return null where none is
    std::shared_ptr<Known> answered(const PhotoLevels &levels, const RegionAsk &ask) const;
    /// With a thing more than before. @return null where the last mark has none
    std::shared_ptr<Known> withThing(const PhotoLevels &levels, const RegionAsk &ask,
                                     const Known &before) const;
    Result<MaskPlane> planeOf(size_t n, const PhotoLevels &levels, int finest, const Run &run);

    RegionPriors m_priors;
    RegionPriors m_added;                        ///< of marks
    uint64_t m_photo = 0;                        ///< content of the levels solved for last
    std::vector<std::shared_ptr<Known>> m_known; ///< for the first 1, 2, ... marks
};

} // namespace buttonhole
