#pragma once

#include "base/param.h"
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
    friend bool operator==(const Match &, const Match &) = default;
};
std::span<const Param<Match>> matchParams();

/// What a Match compares pixels with, whatever its reach.
class MatchColours
{
public:
    explicit MatchColours(const Match &match);

    /// Rows of OKLab, padded as in window_rows.h.
    /// @param near distance to the nearest click that joins; lightness counts by half, so that
    ///        shading joins before other hues do
    /// @param joins 0..1: less than 1 where a click that leaves out is not far beyond
    void compare(const float *L, const float *a, const float *b, int n, float *near,
                 float *joins) const;

private:
    std::vector<float> m_joining; ///< L, a, b of each click
    std::vector<float> m_left;
};

/// Kind "match".
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
    StepFacts facts() const override;
    void toJson(nlohmann::json &out, MaskWriter *writer, const std::string &name) const override;
    std::shared_ptr<const StepShape> placedBy(const FrameScale &scale) const override
    {
        Match match = m_match;
        for (Match::Click &click : match.clicks)
            click.at = scale.of(click.at);
        return with(match);
    }
    float number(size_t index) const override { return matchParams()[index].get(m_match); }
    std::shared_ptr<const StepShape> withNumber(size_t index, float value) const override
    {
        return with(changed(m_match, matchParams()[index], value));
    }

protected:
    void coverageRow(const float *L, const float *a, const float *b, int n,
                     float *out) const override;
    void markJoined(const PhotoLevels &levels, int level, Image<uint8_t> &inside) const override;

private:
    Match m_match;
    MatchColours m_colours;
};

} // namespace buttonhole
