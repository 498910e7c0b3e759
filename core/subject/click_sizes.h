#pragma once

#include "segment/region_solver.h"

namespace buttonhole
{

/// The few things that a click, or a loose stroke, may mean: found one after the other, each larger
/// than the one before. The network for what stands out is shown larger and larger windows round
/// the click; what it finds under the click gets a box, and that box is looked at in turn and
/// enlarged until what is found stays inside it: such a thing would be found from any loose box
/// round it. Not thread-safe.
class ClickSizes
{
public:
    ClickSizes() = default;
    /// @param points of the click or the stroke, px of the photo
    /// @param things boxes of what was found in the photo before, looked at among the windows
    ClickSizes(const Rect &photo, std::vector<PhotoPoint> points, const std::vector<Rect> &things);

    /// Nothing has been tried yet.
    bool isNew() const { return m_isNew; }
    /// Tries what grew by colour from the points as the first thing: it is one where the network
    /// sees the same in the box round it.
    /// @param level on which it grew. Errors: as nth()
    Result<void> startFrom(const PhotoLevels &levels, const MaskPlane &grown, int level,
                           const Run &run);
    /// A first sight of what the first thing is likely to be, sooner than it is settled: what the
    /// smallest window that shows something under the points shows at 320 px. What was looked at
    /// for it is not looked at again. @return null where no window shows anything, or none comes
    /// first. Errors: as nth()
    Result<std::shared_ptr<const RegionPrior>> glimpse(const PhotoLevels &levels, const Run &run);
    /// @return the n-th thing, or the largest, where there are not so many; null: there is none.
    ///         An answer, but for a thing that was found before: that may be evidence for its box
    /// Errors: NotFound, Damaged (models); Cancelled: what was found so far is kept.
    Result<std::shared_ptr<const RegionPrior>> nth(const PhotoLevels &levels, size_t n,
                                                   const Run &run);
    /// Found so far.
    size_t count() const { return m_found.size(); }

private:
    struct Start {
        Rect area;
        bool isThing = false;          ///< its box; otherwise a window
        std::optional<Rect> seen = {}; ///< what a window shows, where it was looked at before
    };
    struct Sight {
        Rect bounds;        ///< of what a window shows under the click; empty: nothing
        Image<float> shown; ///< 0..1
    };
    Result<Sight> seenIn(const PhotoLevels &levels, const Rect &window, const Run &run) const;
    /// The box of what a start shows under the click; empty: nothing new.
    Result<Rect> boxOf(const PhotoLevels &levels, Start &start, const Run &run) const;
    Result<void> findMore(const PhotoLevels &levels, const Run &run);
    /// Enlarges a box until what is found in it stays inside.
    /// @param isThing it is one, sure or not @return null where there is none
    Result<std::shared_ptr<const RegionPrior>> settled(const PhotoLevels &levels, Rect box,
                                                       bool isThing, const Run &run);
    bool isKnown(const Rect &bounds) const;

    std::vector<PhotoPoint> m_points;
    std::vector<Start> m_starts;
    bool m_isNew = true;
    size_t m_next = 0; ///< of m_starts
    int m_looks = 0;   ///< at boxes, so far
    RegionPriors m_found;
    std::vector<Rect> m_bounds; ///< of what was found, px of the photo
};

} // namespace buttonhole
