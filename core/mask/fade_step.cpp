#include "mask/fade_step.h"

#include "base/each_cpu.h"
#include "mask/step_json.h"

#include <cmath>

namespace buttonhole
{

using nlohmann::json;

std::span<const Param<Fade>> fadeParams()
{
    static constexpr Param<Fade> kParams[] = {
        {"feather", [](Fade &f) -> float & { return f.feather; }, 0, 1, 1, {100, " %"}},
        {"ratio",
         [](Fade &f) -> float & { return f.ratio; },
         0.02F,
         50,
         1,
         {1, "", 2, ParamScale::Way::Logarithmic, 0, 0, false}}}; // it has a handle
    return kParams;
}

namespace
{

/// The way t runs from 0 at `from` to 1 at `to`; both directions of it scaled once.
struct FadeWay {
    explicit FadeWay(const Fade &fade)
        : from(fade.from), side(1 / fade.ratio), fades(std::max(fade.feather, 1e-4F))
    {
        const float dx = fade.to.x - fade.from.x;
        const float dy = fade.to.y - fade.from.y;
        const float length2 = std::max(dx * dx + dy * dy, 1e-6F);
        alongX = dx / length2;
        alongY = dy / length2;
    }
    PhotoPoint from;
    float alongX;
    float alongY;
    float side;
    float fades;
};

/// @param py px below `from`; @param scale px of the photo for one of the level
template <bool isRound>
BUTTONHOLE_INLINED void fadeRow(const FadeWay &way, int x0, float py, float scale, int n,
                                uint16_t *to)
{
    for (int i = 0; i < n; ++i) {
        const float px = (float(x0 + i) + 0.5F) * scale - way.from.x;
        const float along = px * way.alongX + py * way.alongY;
        const float across = (py * way.alongX - px * way.alongY) * way.side;
        const float t = isRound ? std::sqrt(along * along + across * across) : along;
        const float left = (1 - t) / way.fades;
        const float share = left < 0 ? 0.0F : left > 1 ? 1.0F : left;
        to[i] = uint16_t(int(share * share * (3 - 2 * share) * 65535.0F + 0.5F));
    }
}

BUTTONHOLE_EACH_CPU
void roundRow(const FadeWay &way, int x0, float py, float scale, int n, uint16_t *to)
{
    fadeRow<true>(way, x0, py, scale, n, to);
}

BUTTONHOLE_EACH_CPU
void straightRow(const FadeWay &way, int x0, float py, float scale, int n, uint16_t *to)
{
    fadeRow<false>(way, x0, py, scale, n, to);
}

} // namespace

StepShape::Effect FadeStep::coverage(const PhotoLevels &, int level, const Rect &area, uint16_t *lo,
                                     uint16_t *) const
{
    const FadeWay way(m_fade);
    const auto scale = float(1 << level);
    for (int y = area.y0; y < area.y1; ++y, lo += area.width()) {
        const float py = (float(y) + 0.5F) * scale - m_fade.from.y;
        (m_fade.isRound ? roundRow : straightRow)(way, area.x0, py, scale, area.width(), lo);
    }
    return Effect::Raises;
}

void FadeStep::toJson(json &out, MaskWriter *, const std::string &) const
{
    out["shape"] = m_fade.isRound ? "round" : "straight";
    out["from"] = {m_fade.from.x, m_fade.from.y};
    out["to"] = {m_fade.to.x, m_fade.to.y};
    paramsToJson(out, m_fade, fadeParams(), ParamsWritten::All);
    if (!m_fade.isRound)
        out.erase("ratio");
}

Result<std::shared_ptr<const StepShape>> FadeStep::fromJson(const json &in, MaskReader &)
{
    Fade fade;
    const std::string shape = in.value("shape", "straight");
    if (shape != "round" && shape != "straight")
        return wrongInput("fade shape", "straight or round is expected");
    fade.isRound = shape == "round";
    for (auto [name, point] : {std::pair{"from", &fade.from}, std::pair{"to", &fade.to}}) {
        const auto read = pointFromJson(in.at(name), name);
        if (!read)
            return read.error();
        *point = *read;
    }
    if (auto fine = paramsFromJson(in, fade, fadeParams(), "fade "); !fine)
        return fine.error();
    return std::shared_ptr<const StepShape>(std::make_shared<FadeStep>(fade));
}

} // namespace buttonhole
