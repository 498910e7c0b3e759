#include "mask/fade_step.h"

#include "mask/step_json.h"

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

StepShape::Effect FadeStep::coverage(const PhotoLevels &, int level, const Rect &area, uint16_t *lo,
                                     uint16_t *) const
{
    // The way t runs from 0 at `from` to 1 at `to`; both directions of it scaled once.
    const float dx = m_fade.to.x - m_fade.from.x;
    const float dy = m_fade.to.y - m_fade.from.y;
    const float length2 = std::max(dx * dx + dy * dy, 1e-6F);
    const float alongX = dx / length2;
    const float alongY = dy / length2;
    const float side = 1 / m_fade.ratio;
    const float fades = std::max(m_fade.feather, 1e-4F);
    const auto scale = float(1 << level);
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x) {
            const float px = (float(x) + 0.5F) * scale - m_fade.from.x;
            const float py = (float(y) + 0.5F) * scale - m_fade.from.y;
            const float along = px * alongX + py * alongY;
            const float across = (py * alongX - px * alongY) * side;
            const float t = m_fade.isRound ? std::sqrt(along * along + across * across) : along;
            *lo++ = uint16_t(smoothStep((1 - t) / fades) * 65535.0F + 0.5F);
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
