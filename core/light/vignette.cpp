#include "light/vignette.h"

#include <cmath>

namespace buttonhole
{

namespace
{

float smooth(float t)
{
    t = std::clamp(t, 0.0F, 1.0F);
    return t * t * (3 - 2 * t);
}

/// How far out a place of the picture is: 0 in the middle, 1 in the corners.
class Way
{
public:
    Way(const Rect &picture, float roundness)
        : m_x(float(picture.x0 + picture.x1) / 2), m_y(float(picture.y0 + picture.y1) / 2)
    {
        const float w = float(picture.width()) / 2;
        const float h = float(picture.height()) / 2;
        const float circle = std::sqrt((w * w + h * h) / 2);
        const float round = std::max(roundness, 0.0F);
        m_across = w + round * (circle - w);
        m_down = h + round * (circle - h);
        constexpr float kSquarest = 10;
        m_power = 2 + std::max(-roundness, 0.0F) * (kSquarest - 2);
    }
    float at(int x, int y) const
    {
        const float u = std::abs(float(x) + 0.5F - m_x) / m_across;
        const float v = std::abs(float(y) + 0.5F - m_y) / m_down;
        if (m_power == 2)
            return std::sqrt((u * u + v * v) / 2);
        return std::pow((std::pow(u, m_power) + std::pow(v, m_power)) / 2, 1 / m_power);
    }

private:
    float m_x;
    float m_y;
    float m_across;
    float m_down;
    float m_power;
};

} // namespace

std::span<const Param<Vignette>> Vignette::rows()
{
    static constexpr Param<Vignette> kRows[] = {
        {"amount", [](Vignette &v) -> float & { return v.amount; }, -1, 1, kSince, {100}},
        {"midpoint", [](Vignette &v) -> float & { return v.midpoint; }, 0, 1, kSince, {100}},
        {"roundness", [](Vignette &v) -> float & { return v.roundness; }, -1, 1, kSince, {100}},
        {"feather", [](Vignette &v) -> float & { return v.feather; }, 0, 1, kSince, {100}},
        {"holdHighlights",
         [](Vignette &v) -> float & { return v.holdHighlights; },
         0,
         1,
         kSince,
         {100}}};
    return kRows;
}

LightChange Vignette::change(const LightSpace &) const
{
    return [values = *this](const Source &in, int level, LightTile &out,
                            const Run &run) -> Result<void> {
        if (auto done = in.read(level, out, run); !done || values.amount == 0)
            return done;
        constexpr float kStops = 2.5F;
        constexpr float kLight = 0.25F; // linear, where highlights begin
        const Way way(in.rectOf(level), values.roundness);
        const float from = values.midpoint * (1 - values.feather);
        const float to = values.midpoint + values.feather * (1 - values.midpoint) + 1e-3F;
        const Rect &area = out.area();
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x) {
                float share = smooth((way.at(x, y) - from) / (to - from));
                if (share == 0)
                    continue;
                float *rgb[] = {out.at(0, x, y), out.at(1, x, y), out.at(2, x, y)};
                if (values.holdHighlights > 0) {
                    const float light = std::max({*rgb[0], *rgb[1], *rgb[2]});
                    share *= 1 - values.holdHighlights * smooth((light - kLight) / (1 - kLight));
                }
                const float gain = std::exp2(kStops * values.amount * share);
                for (float *each : rgb)
                    *each *= gain;
            }
        return {};
    };
}

} // namespace buttonhole
