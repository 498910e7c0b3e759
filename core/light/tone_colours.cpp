#include "light/tone_colours.h"

#include "light/lab_tile.h"

#include <array>
#include <cmath>
#include <memory>
#include <numbers>

namespace buttonhole
{

namespace
{

constexpr int kColourSteps = 256;

/// a and b at each lightness.
struct ColourTable {
    std::array<float, kColourSteps + 2> a;
    std::array<float, kColourSteps + 2> b;

    explicit ColourTable(const ToneColours &values)
    {
        constexpr double kMostChroma = 0.15;
        struct Stop {
            double L, a, b;
        };
        const auto stop = [&](double L, float hueDeg, float colour) {
            const double hue = double(hueDeg) * std::numbers::pi / 180;
            const double chroma = kMostChroma * double(colour);
            return Stop{L, chroma * std::cos(hue), chroma * std::sin(hue)};
        };
        const Stop stops[] = {{0, 0, 0},
                              stop(0.25, values.shadowsHueDeg, values.shadowsColour),
                              stop(0.55, values.middleHueDeg, values.middleColour),
                              stop(0.85, values.lightsHueDeg, values.lightsColour),
                              {1, 0, 0}};
        for (int i = 0; i < kColourSteps + 2; ++i) {
            const double L = std::min(1.0, double(i) / kColourSteps);
            size_t at = 0;
            while (at + 2 < std::size(stops) && L > stops[at + 1].L)
                ++at;
            const double t = (L - stops[at].L) / (stops[at + 1].L - stops[at].L);
            a[size_t(i)] = float(std::lerp(stops[at].a, stops[at + 1].a, t));
            b[size_t(i)] = float(std::lerp(stops[at].b, stops[at + 1].b, t));
        }
    }
};

float between(const std::array<float, kColourSteps + 2> &table, float L)
{
    const float at = std::clamp(L, 0.0F, 1.0F) * kColourSteps;
    const auto below = size_t(at);
    return table[below] + (at - float(below)) * (table[below + 1] - table[below]);
}

} // namespace

std::span<const Param<ToneColours>> ToneColours::rows()
{
    using T = ToneColours;
    static constexpr ParamScale kHues{1, "°", 0, ParamScale::Way::Hues};
    static constexpr ParamScale kShare{100, " %"};
    static constexpr Param<T> kRows[] = {
        {"strength", [](T &t) -> float & { return t.strength; }, 0, 1, kSince, kShare},
        {"shadowsHueDeg", [](T &t) -> float & { return t.shadowsHueDeg; }, 0, 360, kSince, kHues},
        {"shadowsColour", [](T &t) -> float & { return t.shadowsColour; }, 0, 1, kSince, kShare},
        {"middleHueDeg", [](T &t) -> float & { return t.middleHueDeg; }, 0, 360, kSince, kHues},
        {"middleColour", [](T &t) -> float & { return t.middleColour; }, 0, 1, kSince, kShare},
        {"lightsHueDeg", [](T &t) -> float & { return t.lightsHueDeg; }, 0, 360, kSince, kHues},
        {"lightsColour", [](T &t) -> float & { return t.lightsColour; }, 0, 1, kSince, kShare},
        {"negative", [](T &t) -> float & { return t.negative; }, 0, 1, kSince, kShare},
        {"spareKept", [](T &t) -> float & { return t.spareKept; }, 0, 1, kSince, kShare}};
    return kRows;
}

LightChange ToneColours::change(const LightSpace &space) const
{
    const auto table = std::make_shared<const ColourTable>(*this);
    return [values = *this, table, toLms = space.toLms, fromLms = space.fromLms](
               const Source &in, int level, LightTile &out, const Run &run) -> Result<void> {
        if (auto done = in.read(level, out, run);
            !done || (values.strength == 0 && values.negative == 0))
            return done;
        toLab(out, toLms);
        const Rect &area = out.area();
        for (int y = area.y0; y < area.y1; ++y) {
            float *L = out.row(0, y);
            float *a = out.row(1, y);
            float *b = out.row(2, y);
            for (int i = 0; i < area.width(); ++i) {
                L[i] += values.negative * (1 - 2 * L[i]);
                a[i] += values.strength * (between(table->a, L[i]) - a[i]);
                b[i] += values.strength * (between(table->b, L[i]) - b[i]);
            }
        }
        fromLab(out, fromLms);
        return {};
    };
}

} // namespace buttonhole
