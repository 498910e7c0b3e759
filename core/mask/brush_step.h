#pragma once

#include "mask/step.h"
#include "mask/stroke.h"

namespace buttonhole
{

/// Kind "brush": strokes, and the limits they painted (see BrushPlanes).
class BrushStep final : public StepShape
{
public:
    using Strokes = std::vector<std::shared_ptr<const Stroke>>;
    BrushStep(Strokes strokes, BrushPlanes planes)
        : m_strokes(std::move(strokes)), m_planes(std::move(planes))
    {
    }
    /// Errors: InvalidArgument with the place in the JSON. Stored planes are taken as they are;
    /// where they are missing or broken the strokes are painted again: at once, or if some hold to
    /// the photo's edges when the step is first looked at (planes() are then empty).
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in,
                                                             MaskReader &reader);

    const Strokes &strokes() const { return m_strokes; }
    const BrushPlanes &planes() const { return m_planes; }

    std::string kind() const override { return "brush"; }
    StepFacts facts() const override;
    Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                    uint16_t *hi) const override;
    bool needsLevels() const override { return m_planes.lo.isEmpty(); }
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;
    Holds holds() const override { return Holds::Placed; }
    std::shared_ptr<const StepShape> placedBy(const FrameScale &scale) const override;
    void visitPlanes(const std::function<void(const MaskPlane &)> &visit) const override;

private:
    Strokes m_strokes;
    BrushPlanes m_planes;
};

} // namespace buttonhole
