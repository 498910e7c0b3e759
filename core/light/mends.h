#pragma once

#include "clean/spot_source.h"
#include "light/adjustment.h"

#include <vector>

namespace buttonhole
{

/// A spot that is mended from elsewhere in the photo.
struct SpotMend {
    Spot spot;
    SpotSource from;
    bool on = true;
    friend bool operator==(const SpotMend &a, const SpotMend &b)
    {
        return a.on == b.on && a.spot.x == b.spot.x && a.spot.y == b.spot.y &&
               a.spot.radiusPx == b.spot.radiusPx && a.from.dx == b.from.dx &&
               a.from.dy == b.from.dy;
    }
};

/// Spots mended: what lies elsewhere, its texture and grain, on the spot's own ground: the smooth
/// difference of what is round both (after P. Pérez et al., "Poisson image editing", SIGGRAPH 2003,
/// by a surface of the second order) is added to it. Each goes by the photo as it was.
class Mends final : public Adjustment
{
public:
    static constexpr std::string_view kKind = "mends";
    static constexpr int kSince = 10;
    static constexpr size_t kMost = 2000;
    static constexpr float kLeastRadiusPx = 0.5F;
    static constexpr float kMostRadiusPx = 500;
    static AdjustmentKind makeKind();

    explicit Mends(std::vector<SpotMend> spots = {}) : m_spots(std::move(spots)) {}
    const std::vector<SpotMend> &spots() const { return m_spots; }

    std::string_view kind() const override { return kKind; }
    uint64_t content() const override;
    bool isOff() const override { return m_spots.empty(); }
    bool changesLight() const override;
    SourceRef over(SourceRef in) const override;
    void toJson(nlohmann::json &out) const override;
    AdjustmentRef withNumber(size_t, float) const override
    {
        return std::make_shared<const Mends>(m_spots);
    }

private:
    std::vector<SpotMend> m_spots;
};

/// What is changed of the photo by a mend, px.
Rect reachOf(const SpotMend &mend);

} // namespace buttonhole
