#include "mask/match_step.h"

#include "colour/pixel_rows.h"
#include "mask/step_json.h"

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr float kLightnessShare = 0.5F;
/// Between a colour that joins and one that is left out, this share of their distance is soft.
constexpr float kBorder = 0.3F;

/// Squared distance to the nearest click of one sort; 4 where there is none.
void nearestRow(const Match &match, bool isLeft, const float *L, const float *a, const float *b,
                int n, float *out)
{
    std::fill_n(out, n, 4.0F);
    for (const Match::Click &click : match.clicks) {
        if (click.isLeft != isLeft)
            continue;
        for (int i = 0; i < n; ++i) { // becomes SIMD
            const float dL = (L[i] - click.colour.L) * kLightnessShare;
            const float da = a[i] - click.colour.a;
            const float db = b[i] - click.colour.b;
            out[i] = std::min(out[i], dL * dL + da * da + db * db);
        }
    }
}

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

MatchStep::MatchStep(Match match) : PixelStep(placesOf(match)), m_match(std::move(match)) {}

void MatchStep::coverageRow(const float *L, const float *a, const float *b, int n, float *out) const
{
    nearestRow(m_match, false, L, a, b, n, out);
    float left[kRowRun];
    nearestRow(m_match, true, L, a, b, n, left);
    const SoftRange alike{-1, m_match.reach * (1 - m_match.soft / 2), m_match.reach * m_match.soft};
    for (int i = 0; i < n; ++i) {
        const float like = std::sqrt(out[i]);
        const float unlike = std::sqrt(left[i]);
        // 0 at the left-out colour, 1 at the one that joins, a half midway.
        const float side = unlike / std::max(like + unlike, 1e-6F);
        out[i] = alike.at(like) * smoothStep((side - 0.5F) / kBorder + 0.5F);
    }
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
    for (size_t i = 0; i < m_match.clicks.size(); ++i)
        if (m_match.clicks[i].isLeft)
            clicks[i]["left"] = true;
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
        match.clicks.push_back({*at,
                                {lab[0].get<float>(), lab[1].get<float>(), lab[2].get<float>()},
                                each.value("left", false)});
    }
    return std::shared_ptr<const StepShape>(std::make_shared<MatchStep>(std::move(match)));
}

} // namespace buttonhole
