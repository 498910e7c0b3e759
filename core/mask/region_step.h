#pragma once

#include "mask/step.h"
#include "subject/subject_solver.h"

namespace buttonhole
{

/// Kind "region": what was grown from marks; kind "subject": the same, found in the photo or with
/// what nets know as evidence. It holds both, so that files open the same for ever
/// and the marks can be changed.
class RegionStep final : public StepShape
{
public:
    /// @param plane solved from `ask`; empty: solved when first looked at
    /// @param note makes it the kind "subject"
    explicit RegionStep(RegionAsk ask, MaskPlane plane = {}, std::optional<SubjectNote> note = {});
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in,
                                                             MaskReader &reader);
    const RegionAsk &ask() const { return m_ask; }
    const MaskPlane &plane() const { return m_plane; }
    const std::optional<SubjectNote> &note() const { return m_note; }

    std::string kind() const override { return m_note ? "subject" : "region"; }
    StepFacts facts() const override;
    Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                    uint16_t *hi) const override;
    bool needsLevels() const override { return m_plane.isEmpty(); }
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;
    void visitPlanes(const std::function<void(const MaskPlane &)> &visit) const override;
    Holds holds() const override { return Holds::Placed; }
    std::shared_ptr<const StepShape> placedBy(const FrameScale &scale) const override;
    float number(size_t index) const override { return regionAskParams()[index].get(m_ask); }
    /// To be solved anew.
    std::shared_ptr<const StepShape> withNumber(size_t index, float value) const override
    {
        return std::make_shared<RegionStep>(changed(m_ask, regionAskParams()[index], value),
                                            MaskPlane(), m_note);
    }

private:
    RegionAsk m_ask;
    MaskPlane m_plane;
    std::optional<SubjectNote> m_note;
};

} // namespace buttonhole
