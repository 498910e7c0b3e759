#pragma once

#include "base/radial.h"
#include "light/adjustment.h"

namespace buttonhole
{

/// What a lens did to a photo, as measured for its kind: data of a take, so that it stays as it was
/// whatever is measured later.
struct LensProfile {
    std::string name;  ///< of the lens and where it was set; empty: there is no profile
    Radial distortion; ///< a straight lens's point at r lies at r times this
    Radial vignetting; ///< the share of light that arrives
    Radial red;        ///< what belongs at r lies at r times this, in red
    Radial blue;       ///< and in blue
    friend bool operator==(const LensProfile &, const LensProfile &) = default;
};

/// How much of a profile is taken back, and what is by hand.
struct LensAmounts {
    float distortion = 1; ///< 0..1.5, of the profile's
    float vignetting = 1; ///< 0..1.5
    float fringes = 1;    ///< 0..1.5: lateral colour
    float barrel = 0;     ///< -1..1, by hand: 1 = 12 % at the corners, bulging lines made straight
    float corners = 0;    ///< -1..1, by hand: 1 = two stops lighter in the corners
    float redFringe = 0;  ///< -1..1, by hand: 1 = red drawn in by 0.3 % at the corners
    float blueFringe = 0; ///< -1..1

    static std::span<const Param<LensAmounts>> rows();
    friend bool operator==(const LensAmounts &, const LensAmounts &) = default;
};

/// Takes back what the lens did to light: vignetting and lateral colour. Its distortion joins the
/// geometry of the take (see distortionOf()).
class Lens final : public Adjustment
{
public:
    static constexpr std::string_view kKind = "lens";
    static constexpr int kSince = 10;
    static AdjustmentKind makeKind();

    explicit Lens(LensProfile profile = {}, const LensAmounts &amounts = {})
        : m_profile(std::move(profile)), m_amounts(amounts)
    {
    }
    const LensProfile &profile() const { return m_profile; }
    const LensAmounts &amounts() const { return m_amounts; }
    Radial distortion() const; ///< as far as it is to be taken out
    Radial vignetting() const;
    Radial red() const;
    Radial blue() const;

    std::string_view kind() const override { return kKind; }
    uint64_t content() const override; ///< of what changes light
    bool isOff() const override;       ///< distortion included
    bool changesLight() const override;
    SourceRef over(SourceRef in) const override;
    void toJson(nlohmann::json &out) const override;
    float number(size_t index) const override { return LensAmounts::rows()[index].get(m_amounts); }
    AdjustmentRef withNumber(size_t index, float value) const override;

private:
    LensProfile m_profile;
    LensAmounts m_amounts;
};

} // namespace buttonhole
