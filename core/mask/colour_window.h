#pragma once

#include "base/param.h"
#include "mask/pixel_step.h"

namespace buttonhole
{

/// A soft part of OKLCh.
struct ColourRange {
    float hueDeg = 0;       ///< the middle, 0..360
    float hueWidthDeg = 30; ///< full coverage over so many degrees, 0..360
    float hueSoftDeg = 12;  ///< fading on either side
    SoftRange chroma{0.04F, 0.5F, 0.02F};
    SoftRange lightness{0, 1, 0.08F};
    friend bool operator==(const ColourRange &, const ColourRange &) = default;
};

std::span<const Param<ColourRange>> colourRangeParams();

/// A soft range over hue, chroma and lightness, less what is excluded.
struct ColourWindow {
    ColourRange range;
    /// Lightness runs free, and chroma is compared as it would be at the range's middle lightness:
    /// less light on a thing scales all of its OKLab alike.
    bool followsShading = true;
    std::vector<ColourRange> excluded;
    std::vector<PhotoPoint> places; ///< where colours were picked
    bool isConnected = false;       ///< only what joins the places
    friend bool operator==(const ColourWindow &, const ColourWindow &) = default;
};

/// Kind "colour-window".
class ColourWindowStep final : public PixelStep
{
public:
    explicit ColourWindowStep(ColourWindow window);
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in,
                                                             MaskReader &reader);
    const ColourWindow &window() const { return m_window; }

    /// The same with other parameters.
    std::shared_ptr<const StepShape> with(const ColourWindow &changed) const
    {
        return std::make_shared<ColourWindowStep>(changed);
    }

    std::string kind() const override { return "colour-window"; }
    StepFacts facts() const override;
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;
    std::shared_ptr<const StepShape> placedBy(const FrameScale &scale) const override
    {
        ColourWindow window = m_window;
        window.places = buttonhole::placedBy(scale, std::move(window.places));
        return with(window);
    }
    float number(size_t index) const override
    {
        return colourRangeParams()[index].get(m_window.range);
    }
    bool usesNumber(size_t index) const override
    {
        const bool isOfLightness =
            std::string_view(colourRangeParams()[index].id).starts_with("lightness.");
        return !isOfLightness || !m_window.followsShading;
    }
    std::shared_ptr<const StepShape> withNumber(size_t index, float value) const override
    {
        ColourWindow window = m_window;
        colourRangeParams()[index].of(window.range) = value;
        return with(window);
    }

protected:
    void coverageRow(const float *L, const float *a, const float *b, int n,
                     float *out) const override;

private:
    /// A range with the coverage of each hue in a table over kHueSteps of the turn.
    struct Tabled {
        ColourRange range;
        std::vector<float> hue;
    };
    static Tabled tabled(const ColourRange &range);

    ColourWindow m_window;
    Tabled m_range;
    std::vector<Tabled> m_excluded;
};

/// The range for a first pick: room for the noise and shading round one colour.
ColourRange rangeAround(const ColourSpread &spread);
/// The smallest range that holds both, softness kept.
ColourRange widened(const ColourRange &range, const ColourSpread &spread);

} // namespace buttonhole
