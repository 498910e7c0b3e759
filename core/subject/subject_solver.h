#pragma once

#include "segment/region_solver.h"
#include "subject/click_sizes.h"

#include <string>

namespace buttonhole
{

/// What was asked for as a subject, beside marks and a box.
struct SubjectNote {
    std::string word;         ///< what it was found as, e.g. "dog"; empty: clicked or boxed
    std::vector<Rect> ovals;  ///< rough shapes of it (faces, eyes), px of the photo
    std::string models;       ///< that it was made with; empty: without any
    std::vector<Rect> things; ///< boxes of what had been found under the click, px of the photo
    friend bool operator==(const SubjectNote &, const SubjectNote &) = default;
};

/// What a click may mean is of a few sizes. Of a reach, each step of so much is the next larger
/// one; below 0 it grows by colour alone, less and less.
inline constexpr float kReachPerSize = 0.2F;

struct SubjectReport {
    bool usedNet = false; ///< the net had a say
    float reach = 0;      ///< that of the ask, or of the largest size that there is
    Rect looked;          ///< the loose box of the thing that a click came to; empty: of none
};

/// A RegionSolver that knows what subjects look like. A box: what a net for what stands out says
/// of it is the answer where it is to be trusted, and evidence elsewhere; so is that the box is in
/// focus before a blurred background. A click: the smallest thing that the net finds there, or as
/// much larger a one as the reach says (see ClickSizes); where it finds none, a region, with what
/// the net says of its surroundings. Further marks correct that. Without the models there is only
/// the region. Not thread-safe.
class SubjectSolver
{
public:
    /// As RegionSolver::solve(). @param report may be null
    Result<MaskPlane> solve(const PhotoLevels &levels, const RegionAsk &ask,
                            const SubjectNote &note = {}, const Run &run = {}, int finest = 0,
                            SubjectReport *report = nullptr);

    /// A first answer while the net has not been asked yet: as a region.
    Result<MaskPlane> preview(const PhotoLevels &levels, const RegionAsk &ask,
                              const SubjectNote &note, const Run &run, int finest);

    /// A first sight of what solve() is likely to answer to a first click, a look or two of the net
    /// before it is sure; solve() goes on from there. @return nothing where there is none
    Result<std::optional<MaskPlane>> glimpse(const PhotoLevels &levels, const RegionAsk &ask,
                                             const SubjectNote &note, const Run &run, int finest);

private:
    /// What priors are found for.
    struct Start {
        uint64_t photo = 0;
        std::optional<Rect> box;
        RegionMark mark; ///< the first; where there is a box, none
        std::vector<Rect> ovals;
        std::vector<Rect> things;
        friend bool operator==(const Start &, const Start &) = default;
    };
    struct Prior {
        RegionPriors all;
        bool usesNet = false;
        int sizes = 0;           ///< found so far, of a click
        std::optional<Rect> box; ///< to be asked for where that is no answer
        Rect looked;
        float reach = 0;   ///< what is left to grow by
        float settled = 0; ///< the reach that it came to
    };
    static Start startOf(const PhotoLevels &levels, const RegionAsk &ask, const SubjectNote &note);
    Result<Prior> priorOf(const PhotoLevels &levels, const RegionAsk &ask, const Run &run);
    Result<Prior> sizeOf(const PhotoLevels &levels, const RegionAsk &ask, const Run &run);
    Result<Prior> evidenceFor(const PhotoLevels &levels, const RegionAsk &ask, const Run &run);

    /// What a further keep mark adds, or did; null: what grows.
    struct Thing {
        RegionMark mark;
        std::shared_ptr<const RegionPrior> added;
    };
    struct How {
        int finest = 0;
        bool looksFurther = true; ///< for what further marks add
        SubjectReport *report = nullptr;
    };
    Result<MaskPlane> answer(const PhotoLevels &levels, RegionAsk ask, const SubjectNote &note,
                             const Run &run, const How &how);
    Rect placeOf(const Prior &prior, const RegionAsk &ask) const;
    /// Forgets what was found from another start.
    void begin(const PhotoLevels &levels, const RegionAsk &ask, const SubjectNote &note);
    Result<void> grow(const PhotoLevels &levels, const Run &run);
    Result<void> beginSizes(const PhotoLevels &levels, const Run &run);
    Result<void> findAdded(const PhotoLevels &levels, const RegionAsk &ask, const Rect &first,
                           const Run &run);
    RegionPriors addedBy(const RegionAsk &ask);

    RegionSolver m_solver;
    Start m_start;
    std::optional<Prior> m_evidence;  ///< for m_start, whatever the reach
    std::vector<Thing> m_things;      ///< by marks
    std::optional<MaskPlane> m_grown; ///< from the mark of m_start, by colour
    ClickSizes m_sizes;               ///< of m_start
};

} // namespace buttonhole
