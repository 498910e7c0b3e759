#include "light/vignette.h"

#include "base/each_cpu.h"

#include <array>
#include <cmath>
#include <memory>
#include <vector>

namespace buttonhole
{

namespace
{

/// How far out places of an ellipse are: 0 in the middle, 1 in the corners.
BUTTONHOLE_EACH_CPU
void distanceRow(int x0, float middle, float across, float v, int n, float *to)
{
    for (int i = 0; i < n; ++i) {
        const float u = (float(x0 + i) + 0.5F - middle) / across;
        to[i] = std::sqrt((u * u + v * v) / 2);
    }
}

BUTTONHOLE_EACH_CPU
void smoothRow(float from, float to, int n, float *way)
{
    for (int i = 0; i < n; ++i) {
        float t = (way[i] - from) / (to - from);
        t = t < 0 ? 0.0F : t > 1 ? 1.0F : t;
        way[i] = t * t * (3 - 2 * t);
    }
}

/// So much less of the shares where there is light.
BUTTONHOLE_EACH_CPU
void holdRow(float hold, const float *r, const float *g, const float *b, int n, float *shares)
{
    constexpr float kLight = 0.25F; // linear, where highlights begin
    for (int i = 0; i < n; ++i) {
        float light = r[i] > g[i] ? r[i] : g[i];
        light = light > b[i] ? light : b[i];
        float t = (light - kLight) / (1 - kLight);
        t = t < 0 ? 0.0F : t > 1 ? 1.0F : t;
        shares[i] *= 1 - hold * (t * t * (3 - 2 * t));
    }
}

BUTTONHOLE_EACH_CPU
void multiplyRow(const float *by, int n, float *to)
{
    for (int i = 0; i < n; ++i)
        to[i] *= by[i];
}

/// What lies in a table at values of 0..1.
BUTTONHOLE_EACH_CPU
void lookUpRow(const float *table, float steps, int n, float *__restrict values)
{
    for (int i = 0; i < n; ++i) {
        const float at = values[i] * steps;
        const int below = int(at);
        values[i] = table[below] + (at - float(below)) * (table[below + 1] - table[below]);
    }
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
    void row(int x0, int y, int n, float *to) const
    {
        const float v = std::abs(float(y) + 0.5F - m_y) / m_down;
        if (m_power == 2)
            return distanceRow(x0, m_x, m_across, v, n, to);
        const float down = std::pow(v, m_power);
        for (int i = 0; i < n; ++i) {
            const float u = std::abs(float(x0 + i) + 0.5F - m_x) / m_across;
            to[i] = std::pow((std::pow(u, m_power) + down) / 2, 1 / m_power);
        }
    }

private:
    float m_x;
    float m_y;
    float m_across;
    float m_down;
    float m_power;
};

/// Light's factor by the share of a vignette.
class Gains
{
public:
    explicit Gains(float amount)
    {
        constexpr float kStops = 2.5F;
        for (size_t i = 0; i < m_gains.size(); ++i)
            m_gains[i] = std::exp2(kStops * amount * float(i) / kSteps);
    }
    /// Shares become gains.
    void row(int n, float *shares) const { lookUpRow(m_gains.data(), float(kSteps), n, shares); }

private:
    static constexpr int kSteps = 1024;
    std::array<float, kSteps + 2> m_gains;
};

} // namespace

std::span<const Param<Vignette>> Vignette::rows()
{
    static constexpr int kSpareSince = 11;
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
         {100}},
        {"spareKept",
         [](Vignette &v) -> float & { return v.spareKept; },
         0,
         1,
         kSpareSince,
         {100, " %"}}};
    return kRows;
}

LightChange Vignette::change(const LightSpace &) const
{
    const auto gains = std::make_shared<const Gains>(amount);
    return [values = *this, gains](const Source &in, int level, LightTile &out,
                                   const Run &run) -> Result<void> {
        if (auto done = in.readPlanes(level, out, run); !done || values.amount == 0)
            return done;
        const Way way(in.rectOf(level), values.roundness);
        const float from = values.midpoint * (1 - values.feather);
        const float to = values.midpoint + values.feather * (1 - values.midpoint) + 1e-3F;
        const Rect &area = out.area();
        const int n = area.width();
        std::vector<float> shares(size_t(n), 0.0F);
        for (int y = area.y0; y < area.y1; ++y) {
            way.row(area.x0, y, n, shares.data());
            smoothRow(from, to, n, shares.data());
            if (values.holdHighlights > 0)
                holdRow(values.holdHighlights, out.row(0, y), out.row(1, y), out.row(2, y), n,
                        shares.data());
            gains->row(n, shares.data());
            for (int c = 0; c < out.planes(); ++c)
                multiplyRow(shares.data(), n, out.row(c, y));
        }
        return {};
    };
}

} // namespace buttonhole
