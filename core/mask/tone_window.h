#pragma once

#include "base/param.h"
#include "mask/pixel_step.h"

namespace buttonhole
{

/// A range as a new window has it.
struct ToneRange : SoftRange {
    ToneRange() : SoftRange{0, 1, 0.05F} {}
    explicit ToneRange(const SoftRange &range) : SoftRange(range) {}
};
std::span<const Param<ToneRange>> toneRangeParams();

/// Kind "tone-window": a soft range of OKLab lightness.
class ToneWindowStep final : public PixelStep
{
public:
    explicit ToneWindowStep(const SoftRange &lightness, std::vector<PhotoPoint> places = {})
        : PixelStep(std::move(places)), m_lightness(lightness)
    {
    }
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in,
                                                             MaskReader &reader);
    const SoftRange &lightness() const { return m_lightness; }

    /// The same with another range.
    std::shared_ptr<const StepShape> with(const SoftRange &changed) const
    {
        return std::make_shared<ToneWindowStep>(changed, places());
    }

    std::string kind() const override { return "tone-window"; }
    StepFacts facts() const override;
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;
    std::shared_ptr<const StepShape> placedBy(const FrameScale &scale) const override
    {
        return std::make_shared<ToneWindowStep>(m_lightness, buttonhole::placedBy(scale, places()));
    }
    float number(size_t index) const override
    {
        return toneRangeParams()[index].get(ToneRange(m_lightness));
    }
    std::shared_ptr<const StepShape> withNumber(size_t index, float value) const override
    {
        return with(changed(ToneRange(m_lightness), toneRangeParams()[index], value));
    }

protected:
    void coverageRow(const float *L, const float *a, const float *b, int n,
                     float *out) const override;

private:
    SoftRange m_lightness;
};

} // namespace buttonhole
