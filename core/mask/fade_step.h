#pragma once

#include "base/param.h"
#include "mask/pixel_step.h"

namespace buttonhole
{

/// A gradient with movable handles.
struct Fade {
    bool isRound = false;
    PhotoPoint from;   ///< straight: where coverage is full; round: the middle
    PhotoPoint to;     ///< straight: where it has ended; round: a point on the rim
    float ratio = 1;   ///< round: the other axis as a share of that to `to`, 0.02..50
    float feather = 1; ///< 0..1: share of the way over which it fades, at the far end
    friend bool operator==(const Fade &, const Fade &) = default;
};
std::span<const Param<Fade>> fadeParams();

/// Kind "fade": goes by the place alone.
class FadeStep final : public StepShape
{
public:
    explicit FadeStep(const Fade &fade) : m_fade(fade) {}
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in,
                                                             MaskReader &reader);
    const Fade &fade() const { return m_fade; }

    /// The same with other parameters.
    std::shared_ptr<const StepShape> with(const Fade &changed) const
    {
        return std::make_shared<FadeStep>(changed);
    }

    std::string kind() const override { return "fade"; }
    StepFacts facts() const override { return {{"round", m_fade.isRound}}; }
    Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                    uint16_t *hi) const override;
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;
    Holds holds() const override { return Holds::ByFrame; }
    std::shared_ptr<const StepShape> placedBy(const FrameScale &scale) const override
    {
        Fade fade = m_fade;
        fade.from = scale.of(fade.from);
        fade.to = scale.of(fade.to);
        return with(fade);
    }
    float number(size_t index) const override { return fadeParams()[index].get(m_fade); }
    std::shared_ptr<const StepShape> withNumber(size_t index, float value) const override
    {
        return with(changed(m_fade, fadeParams()[index], value));
    }

private:
    Fade m_fade;
};

} // namespace buttonhole
