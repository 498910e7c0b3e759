#pragma once

#include "mask/pixel_step.h"

namespace buttonhole
{

/// A corner or a smooth point of an outline. Handles are offsets; both 0: straight lines meet here.
struct OutlinePoint {
    PhotoPoint at;
    PhotoPoint in;  ///< towards the point before
    PhotoPoint out; ///< towards the next one
    friend bool operator==(const OutlinePoint &, const OutlinePoint &) = default;
};

/// A closed line of cubic Bezier segments, the last point joining the first.
using Outline = std::vector<OutlinePoint>;

/// Kind "outline": what closed lines enclose. Where two overlap there is a hole; a line that
/// crosses itself encloses all it goes round.
class OutlineStep final : public StepShape
{
public:
    explicit OutlineStep(std::vector<Outline> outlines);
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in,
                                                             MaskReader &reader);
    const std::vector<Outline> &outlines() const { return m_outlines; }

    std::string kind() const override { return "outline"; }
    StepFacts facts() const override;
    Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                    uint16_t *hi) const override;
    Holds holds() const override { return Holds::Placed; }
    std::shared_ptr<const StepShape> placedBy(const FrameScale &scale) const override;
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;

private:
    /// One outline as straight pieces, px of the photo.
    struct Flat {
        std::vector<PhotoPoint> points;
        float x0, y0, x1, y1;
    };
    std::vector<Outline> m_outlines;
    std::vector<Flat> m_flat;
};

/// The points of an outline's curve, close enough together that straight pieces stay within 0.02
/// px.
std::vector<PhotoPoint> flattened(const Outline &outline, bool isClosed = true);

/// Puts a point onto the segment after `index`, at `t` (0..1) of its parameter; the line keeps its
/// form. Source: P. de Casteljau's construction.
void splitSegment(Outline &outline, size_t index, float t);

/// The corners of a closed line with as few of them as keep it within `withinPx`.
/// Source: D. Douglas, T. Peucker, "Algorithms for the reduction of the number of points required
/// to represent a digitized line or its caricature", 1973.
Outline simplified(const Outline &drawn, double withinPx);

/// The share of each pixel that a closed polygon covers, exact but for 1/65536 per piece of line:
/// each pixel comes out the same in any area.
/// @param points  px of the photo; @param level pyramid level of `area`
/// @param out     area.area() values, uint16 0..65535
/// Source: signed areas summed along rows, as font rasterisers do (R. Levien, "Inside the fastest
/// font renderer in the world", 2016).
void fillPolygon(const std::vector<PhotoPoint> &points, int level, const Rect &area, uint16_t *out);

} // namespace buttonhole
