#include "mask/match_step.h"

#include "mask/step_json.h"

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr float kLightnessShare = 0.5F;

std::vector<PhotoPoint> placesOf(const Match &match)
{
    std::vector<PhotoPoint> out;
    if (match.isConnected)
        for (const Match::Click &click : match.clicks)
            out.push_back(click.at);
    return out;
}

} // namespace

MatchStep::MatchStep(Match match) : PixelStep(placesOf(match)), m_match(std::move(match)) {}

void MatchStep::coverageRow(const float *L, const float *a, const float *b, int n, float *out) const
{
    std::fill_n(out, n, 4.0F);
    for (const Match::Click &click : m_match.clicks)
        for (int i = 0; i < n; ++i) { // becomes SIMD
            const float dL = (L[i] - click.colour.L) * kLightnessShare;
            const float da = a[i] - click.colour.a;
            const float db = b[i] - click.colour.b;
            out[i] = std::min(out[i], dL * dL + da * da + db * db);
        }
    const SoftRange alike{-1, m_match.reach * (1 - m_match.soft / 2), m_match.reach * m_match.soft};
    for (int i = 0; i < n; ++i)
        out[i] = alike.at(std::sqrt(out[i]));
}

std::string MatchStep::summary() const
{
    const size_t n = m_match.clicks.size();
    return std::to_string(n) + (n == 1 ? " click" : " clicks") +
           (m_match.isConnected ? ", connected" : "");
}

void MatchStep::toJson(json &out, MaskWriter *, const std::string &) const
{
    json clicks = json::array();
    for (const Match::Click &click : m_match.clicks)
        clicks.push_back({{"at", {click.at.x, click.at.y}},
                          {"oklab", {click.colour.L, click.colour.a, click.colour.b}}});
    out["clicks"] = std::move(clicks);
    out["reach"] = m_match.reach;
    out["soft"] = m_match.soft;
    out["connected"] = m_match.isConnected;
}

Result<std::shared_ptr<const StepShape>> MatchStep::fromJson(const json &in, MaskReader &)
{
    Match match;
    if (auto fine =
            readNumbers(in, "match", {{"reach", &match.reach, 0, 1}, {"soft", &match.soft, 0, 1}});
        !fine)
        return fine.error();
    match.isConnected = in.value("connected", match.isConnected);
    for (const json &each : in.at("clicks")) {
        const auto at = pointFromJson(each.at("at"), "match clicks");
        if (!at)
            return at.error();
        const json &lab = each.at("oklab");
        if (!lab.is_array() || lab.size() != 3)
            return wrongInput("match oklab", "[L, a, b] is expected");
        match.clicks.push_back(
            {*at, {lab[0].get<float>(), lab[1].get<float>(), lab[2].get<float>()}});
    }
    return std::shared_ptr<const StepShape>(std::make_shared<MatchStep>(std::move(match)));
}

} // namespace buttonhole
