#include "mask/match_step.h"

#include "colour/pixel_rows.h"
#include "mask/reach_map.h"
#include "mask/step_json.h"
#include "mask/window_rows.h"

#include <cmath>

namespace buttonhole
{

namespace
{

using nlohmann::json;

std::vector<PhotoPoint> placesOf(const Match &match)
{
    std::vector<PhotoPoint> out;
    if (match.isConnected)
        for (const Match::Click &click : match.clicks)
            if (!click.isLeft)
                out.push_back(click.at);
    return out;
}

} // namespace

MatchColours::MatchColours(const Match &match)
{
    for (const Match::Click &click : match.clicks) {
        auto &colours = click.isLeft ? m_left : m_joining;
        colours.insert(colours.end(), {click.colour.L, click.colour.a, click.colour.b});
    }
}

void MatchColours::compare(const float *L, const float *a, const float *b, int n, float *near,
                           float *joins) const
{
    constexpr float kLightnessShare = 0.5F;
    /// Between a colour that joins and one that is left out, this share of their distance is soft.
    constexpr float kBorder = 0.3F;
    nearestRow(m_joining.data(), m_joining.size() / 3, kLightnessShare, L, a, b, n, near);
    if (m_left.empty()) {
        std::fill_n(joins, n, 1.0F);
        return;
    }
    alignas(64) float away[kRowRun + 64];
    nearestRow(m_left.data(), m_left.size() / 3, kLightnessShare, L, a, b, n, away);
    sideRow(kBorder, near, away, n, joins);
}

MatchStep::MatchStep(Match match)
    : PixelStep(placesOf(match)), m_match(std::move(match)), m_colours(m_match)
{
}

void MatchStep::coverageRow(const float *L, const float *a, const float *b, int n, float *out) const
{
    const SoftRange alike{-1, m_match.reach * (1 - m_match.soft / 2), m_match.reach * m_match.soft};
    alignas(64) float joins[kRowRun + 64];
    m_colours.compare(L, a, b, n, out, joins);
    softRow(alike, out, n, out);
    for (int i = 0; i < n; ++i)
        out[i] *= joins[i];
}

void MatchStep::markJoined(const PhotoLevels &levels, int level, Image<uint8_t> &inside) const
{
    ReachMap::of(levels, level, m_match)->mark(m_match.reach, inside);
}

std::span<const Param<Match>> matchParams()
{
    static constexpr Param<Match> kParams[] = {
        {"reach",
         [](Match &m) -> float & { return m.reach; },
         0,
         1,
         1,
         {100, "", 1, ParamScale::Way::Logarithmic, 0.002F, 1}},
        {"soft", [](Match &m) -> float & { return m.soft; }, 0, 1, 1, {100, " %"}}};
    return kParams;
}

StepFacts MatchStep::facts() const
{
    return {{"clicks", double(m_match.clicks.size())}, {"connected", m_match.isConnected}};
}

void MatchStep::toJson(json &out, MaskWriter *, const std::string &) const
{
    json clicks = json::array();
    for (const Match::Click &click : m_match.clicks)
        clicks.push_back({{"at", {click.at.x, click.at.y}},
                          {"oklab", {click.colour.L, click.colour.a, click.colour.b}}});
    for (size_t i = 0; i < m_match.clicks.size(); ++i)
        if (m_match.clicks[i].isLeft)
            clicks[i]["left"] = true;
    out["clicks"] = std::move(clicks);
    paramsToJson(out, m_match, matchParams(), ParamsWritten::All);
    out["connected"] = m_match.isConnected;
}

Result<std::shared_ptr<const StepShape>> MatchStep::fromJson(const json &in, MaskReader &)
{
    Match match;
    if (auto fine = paramsFromJson(in, match, matchParams(), "match "); !fine)
        return fine.error();
    match.isConnected = in.value("connected", match.isConnected);
    if (in.at("clicks").size() > kMostPicks)
        return wrongInput("match clicks", "there are more than 1000");
    for (const json &each : in.at("clicks")) {
        const auto at = pointFromJson(each.at("at"), "match clicks");
        if (!at)
            return at.error();
        const json &lab = each.at("oklab");
        if (!lab.is_array() || lab.size() != 3)
            return wrongInput("match oklab", "[L, a, b] is expected");
        constexpr float kFarthest = 10; // no light that a photo holds is as far from grey
        for (const json &value : lab)
            if (!value.is_number() || !(std::abs(value.get<float>()) <= kFarthest))
                return wrongInput("match oklab", "the colour is out of range");
        match.clicks.push_back({*at,
                                {lab[0].get<float>(), lab[1].get<float>(), lab[2].get<float>()},
                                each.value("left", false)});
    }
    return std::shared_ptr<const StepShape>(std::make_shared<MatchStep>(std::move(match)));
}

} // namespace buttonhole
