#pragma once

#include "segment/region_solver.h"

#include <string>

namespace buttonhole
{

/// What was asked for as a subject, beside marks and a box.
struct SubjectNote {
    std::string word;        ///< what it was found as, e.g. "dog"; empty: clicked or boxed
    std::vector<Rect> ovals; ///< rough shapes of it (faces, eyes), px of the photo
    std::string models;      ///< that it was made with; empty: without any
    friend bool operator==(const SubjectNote &, const SubjectNote &) = default;
};

/// A RegionSolver that knows what subjects look like: a net's answer round the box, or round what
/// grew from the first mark, is evidence too where it is to be trusted; so is that the box is in
/// focus before a blurred background. Without the models only the latter. Not thread-safe.
class SubjectSolver
{
public:
    /// As RegionSolver::solve(). @param usedNet may be null: receives whether the net had a say
    Result<MaskPlane> solve(const PhotoLevels &levels, const RegionAsk &ask,
                            const std::vector<Rect> &ovals, const Run &run = {}, int finest = 0,
                            bool *usedNet = nullptr);

    /// A first answer while the net has not been asked yet: as a region.
    Result<MaskPlane> preview(const PhotoLevels &levels, const RegionAsk &ask,
                              const std::vector<Rect> &ovals, const Run &run, int finest);

private:
    bool knowsPrior(const PhotoLevels &levels, const RegionAsk &start,
                    const std::vector<Rect> &ovals) const;
    Result<void> findPrior(const PhotoLevels &levels, const RegionAsk &ask,
                           const std::vector<Rect> &ovals, const Run &run);

    RegionSolver m_solver;
    bool m_hasPriors = false; ///< m_solver has
    bool m_usesNet = false;   ///< the net had a say
    uint64_t m_photo = 0;     ///< what they were found for
    RegionAsk m_start;        ///< the box and the first mark
    std::vector<Rect> m_ovals;
};

} // namespace buttonhole
