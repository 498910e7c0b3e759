#include "light/local_effects.h"

#include "light/coarse_plane.h"
#include "light/lab_tile.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kFinePx = 1.6;
constexpr double kCoarsePx = 20;
constexpr double kLeastTexture = 0.3; ///< px of a level: less is nothing there
constexpr float kEdgeVariance = 0.004F;

/// A channel's plane of an area.
Plane planeOf(const LightTile &light, int channel)
{
    const Rect &area = light.area();
    Plane out(area.width(), area.height(), 1);
    for (int y = area.y0; y < area.y1; ++y)
        std::copy_n(light.row(channel, y), area.width(), out.row(y - area.y0));
    return out;
}

/// What is smooth of a lightness: the lines of a guided filter, found on a reduced plane.
/// @param L over `wide` @return over `part`
Plane smoothBase(const Plane &L, const Rect &wide, const Rect &part, double sigma, int step)
{
    const auto lines =
        GuidedMean(sigma / step).lines(CoarsePlane::reduced(L, wide, step), kEdgeVariance);
    Plane out = CoarsePlane::enlarged(lines.offset, wide, part, step);
    const Plane slope = CoarsePlane::enlarged(lines.slope, wide, part, step);
    for (int y = 0; y < part.height(); ++y) {
        const float *own = L.row(y + part.y0 - wide.y0) + (part.x0 - wide.x0);
        for (int x = 0; x < part.width(); ++x)
            out.row(y)[x] += slope.row(y)[x] * own[x];
    }
    return out;
}

struct Scale {
    double sigma; ///< px of the level
    int step;
    float amount;
};

/// What of a texture there is to be done at a level, the widest last.
std::vector<Scale> scalesAt(const Texture &texture, int level)
{
    std::vector<Scale> out;
    for (const auto &[px, amount] :
         {std::pair(kFinePx, texture.fine), {kCoarsePx, texture.coarse}}) {
        const double sigma = px / double(1 << level);
        if (amount != 0 && sigma >= kLeastTexture)
            out.push_back({sigma, CoarsePlane::stepFor(sigma), amount});
    }
    return out;
}

int reachOf(const Scale &scale)
{
    return (GuidedMean(scale.sigma / scale.step).reach() + 2) * scale.step;
}

} // namespace

std::span<const Param<Fog>> Fog::rows()
{
    static constexpr Param<Fog> kRows[] = {
        {"amount", [](Fog &f) -> float & { return f.amount; }, 0, 1, kSince, {100, " %"}},
        {"lightness", [](Fog &f) -> float & { return f.lightness; }, 0.3F, 1, kSince, {100}}};
    return kRows;
}

LightChange Fog::change(const LightSpace &space) const
{
    return [values = *this, space = LightSpace(space)](const Source &in, int level, LightTile &out,
                                                       const Run &run) -> Result<void> {
        if (auto done = in.read(level, out, run); !done || values.amount == 0)
            return done;
        toLab(out, space.toLms);
        const Rect &area = out.area();
        for (int y = area.y0; y < area.y1; ++y) {
            for (int c = 0; c < 3; ++c) {
                float *row = out.row(c, y);
                const float veil = c == 0 ? values.lightness : 0.0F;
                for (int x = 0; x < area.width(); ++x)
                    row[x] += values.amount * (veil - row[x]);
            }
        }
        fromLab(out, space.fromLms);
        return {};
    };
}

std::span<const Param<Texture>> Texture::rows()
{
    static constexpr Param<Texture> kRows[] = {
        {"fine", [](Texture &t) -> float & { return t.fine; }, -1, 1, kSince, {100}},
        {"coarse", [](Texture &t) -> float & { return t.coarse; }, -1, 1, kSince, {100}}};
    return kRows;
}

int Texture::reachPx() const
{
    int reach = 0;
    for (const Scale &scale : scalesAt(*this, 0))
        reach = std::max(reach, reachOf(scale));
    return reach;
}

LightChange Texture::change(const LightSpace &space) const
{
    return [values = *this, space = LightSpace(space)](const Source &in, int level, LightTile &out,
                                                       const Run &run) -> Result<void> {
        const std::vector<Scale> scales = scalesAt(values, level);
        if (scales.empty())
            return in.read(level, out, run);
        const Scale &widest = scales.back();
        LightTile light(CoarsePlane::widened(out.area(),
                                             GuidedMean(widest.sigma / widest.step).reach() + 1,
                                             widest.step, in.rectOf(level)));
        if (auto done = in.read(level, light, run); !done)
            return done;
        toLab(light, space.toLms);
        const Rect &wide = light.area();
        const Rect &part = out.area();
        const Plane L = planeOf(light, 0);
        Plane made(part.width(), part.height(), 1);
        for (int y = 0; y < part.height(); ++y)
            std::copy_n(L.row(y + part.y0 - wide.y0) + (part.x0 - wide.x0), part.width(),
                        made.row(y));
        for (const Scale &scale : scales) {
            const Plane base = smoothBase(L, wide, part, scale.sigma, scale.step);
            for (int y = 0; y < part.height(); ++y) {
                const float *own = L.row(y + part.y0 - wide.y0) + (part.x0 - wide.x0);
                for (int x = 0; x < part.width(); ++x)
                    made.row(y)[x] += scale.amount * (own[x] - base.row(y)[x]);
            }
        }
        constexpr float kLeastL = 0.02F;
        for (int y = part.y0; y < part.y1; ++y) {
            for (int x = part.x0; x < part.x1; ++x) {
                const float was = *light.at(0, x, y);
                const float is = std::max(made.row(y - part.y0)[x - part.x0], 0.0F);
                const float scale = std::min(is / std::max(was, kLeastL), 2.0F);
                *out.at(0, x, y) = is;
                *out.at(1, x, y) = *light.at(1, x, y) * scale;
                *out.at(2, x, y) = *light.at(2, x, y) * scale;
            }
        }
        fromLab(out, space.fromLms);
        return {};
    };
}

std::span<const Param<Blur>> Blur::rows()
{
    static constexpr Param<Blur> kRows[] = {{"radiusPx",
                                             [](Blur &b) -> float & { return b.radiusPx; },
                                             0,
                                             60,
                                             kSince,
                                             {1, " px", 1, ParamScale::Way::Eased}}};
    return kRows;
}

int Blur::reachPx() const
{
    const double sigma = double(radiusPx);
    const int step = CoarsePlane::stepFor(sigma);
    return sigma > 0 ? (GuidedMean(sigma / step).radius() + 3) * step : 0;
}

LightChange Blur::change(const LightSpace &) const
{
    return [px = double(radiusPx)](const Source &in, int level, LightTile &out,
                                   const Run &run) -> Result<void> {
        constexpr double kLeastBlur = 0.2; // px of a level
        const double sigma = px / double(1 << level);
        if (sigma < kLeastBlur)
            return in.read(level, out, run);
        const int step = CoarsePlane::stepFor(sigma);
        const GuidedMean mean(sigma / step);
        LightTile light(
            CoarsePlane::widened(out.area(), mean.radius() + 1, step, in.rectOf(level)));
        if (auto done = in.read(level, light, run); !done)
            return done;
        const Rect &wide = light.area();
        const Rect &part = out.area();
        for (int c = 0; c < 3; ++c) {
            const Plane made = CoarsePlane::enlarged(
                mean.mean(CoarsePlane::reduced(planeOf(light, c), wide, step)), wide, part, step);
            for (int y = part.y0; y < part.y1; ++y)
                std::copy_n(made.row(y - part.y0), part.width(), out.row(c, y));
        }
        return {};
    };
}

} // namespace buttonhole
