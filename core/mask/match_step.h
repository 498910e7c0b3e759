#pragma once

#include "mask/pixel_step.h"

namespace buttonhole
{

/// Pixels like those clicked.
struct Match {
    struct Click {
        PhotoPoint at;
        LabColour colour;    ///< what was there, over the tip
        bool isLeft = false; ///< pixels more like this than like any other click stay out
        friend bool operator==(const Click &, const Click &) = default;
    };
    std::vector<Click> clicks;
    float reach = 0.08F; ///< 0..1: distance in OKLab up to which a pixel is alike
    float soft = 0.4F;   ///< 0..1: share of the reach over which the edge fades
    bool isConnected = true;

    /// Of a colour's distance lightness counts so much.
    static constexpr float kLightnessShare = 0.5F;
    /// Between a colour that joins and one that is left out, this share of their distance is soft.
    static constexpr float kBorder = 0.3F;
    /// L, a, b of each click of one kind.
    std::vector<float> colours(bool left) const;
    friend bool operator==(const Match &, const Match &) = default;
};

/// Kind "match". The distance counts lightness by half, so that shading joins before other hues do.
class MatchStep final : public PixelStep
{
public:
    explicit MatchStep(Match match);
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in,
                                                             MaskReader &reader);
    const Match &match() const { return m_match; }

    /// The same with other parameters.
    std::shared_ptr<const StepShape> with(const Match &changed) const
    {
        return std::make_shared<MatchStep>(changed);
    }

    std::string kind() const override { return "match"; }
    std::string title() const override { return "Match"; }
    std::string summary() const override;
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;

protected:
    void coverageRow(const float *L, const float *a, const float *b, int n,
                     float *out) const override;
    void markJoined(const PhotoLevels &levels, int level, Image<uint8_t> &inside) const override;

private:
    Match m_match;
    std::vector<float> m_joining; ///< L, a, b of each click
    std::vector<float> m_left;
};

} // namespace buttonhole
