#include "light/local_effects.h"

#include "base/each_cpu.h"
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

/// Light round a part of a level, reduced: read from a coarser level as far as there are such, and
/// from there on by means.
struct CoarseLight {
    LightTile light;
    int rest = 1; ///< by how much its planes are reduced
    Rect area;    ///< of the planes, px of the level that was asked
};

/// @param reach px of the reduced planes
Result<CoarseLight> readCoarse(const Source &in, int level, const Rect &part, int step, int reach,
                               const Run &run)
{
    int deeper = 0;
    while ((2 << deeper) <= step && level + deeper + 1 < in.levelCount())
        ++deeper;
    CoarseLight out;
    out.rest = step >> deeper;
    const int last = (1 << deeper) - 1;
    const Rect all = in.rectOf(level + deeper);
    const Rect there{part.x0 >> deeper, part.y0 >> deeper, (part.x1 + last) >> deeper,
                     (part.y1 + last) >> deeper};
    out.light.setArea(CoarsePlane::widened(there, reach, out.rest, all));
    const Rect &read = out.light.area();
    out.area = {read.x0 << deeper, read.y0 << deeper, read.x1 << deeper, read.y1 << deeper};
    if (auto done = in.readPlanes(level + deeper, out.light, run); !done)
        return done.error();
    return out;
}

Plane reducedPlane(const CoarseLight &coarse, int channel)
{
    Plane out = planeOf(coarse.light, channel);
    return coarse.rest == 1 ? std::move(out)
                            : CoarsePlane::reduced(out, coarse.light.area(), coarse.rest);
}

BUTTONHOLE_EACH_CPU
void addTexture(const float *own, const float *slope, const float *offset, float amount, int n,
                float *__restrict made)
{
    for (int x = 0; x < n; ++x)
        made[x] += amount * (own[x] - (offset[x] + slope[x] * own[x]));
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

BUTTONHOLE_EACH_CPU
void notNegativeRow(int n, float *L)
{
    for (int x = 0; x < n; ++x)
        L[x] = L[x] > 0 ? L[x] : 0.0F;
}

/// Colour goes with lightness. OKLab.
BUTTONHOLE_EACH_CPU
void followRow(const float *was, const float *made, int n, float *__restrict a, float *__restrict b)
{
    constexpr float kLeastL = 0.02F;
    for (int x = 0; x < n; ++x) {
        const float share = made[x] / (was[x] > kLeastL ? was[x] : kLeastL);
        const float scale = share < 2 ? share : 2.0F;
        a[x] *= scale;
        b[x] *= scale;
    }
}

/// Lines of it are found at every other pixel.
bool isEveryOther(const Scale &scale)
{
    return scale.step == 1 && scale.sigma >= GuidedMean::kLeastEveryOther;
}

int reachOf(const Scale &scale)
{
    constexpr int kBeside = 2; // px: up to what lies straight between others
    const int onGrid = isEveryOther(scale) ? 1 : 0;
    return (GuidedMean(scale.sigma / scale.step).reach() + kBeside) * scale.step + onGrid;
}

/// What an area looks at of its own level. Every other pixel is meant of the level's.
Rect nearArea(const Rect &part, const std::vector<Scale> &scales, const Rect &picture)
{
    int reach = 0;
    int step = 1;
    for (const Scale &scale : scales)
        if (scale.step == 1) {
            reach = GuidedMean(scale.sigma).reach() + 1;
            step = isEveryOther(scale) ? 2 : 1;
        }
    return CoarsePlane::widened(part, reach / step, step, picture);
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
        if (auto done = in.readPlanes(level, out, run); !done || values.amount == 0)
            return done;
        toLab(out, space.toLms);
        const Rect &area = out.area();
        for (int y = area.y0; y < area.y1; ++y) {
            for (int c = 0; c < out.planes(); ++c) {
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

int Texture::readsAroundPx() const
{
    int reach = 0;
    for (const Scale &scale : scalesAt(*this, 0))
        if (scale.step == 1)
            reach = std::max(reach, reachOf(scale));
    return reach;
}

namespace
{

/// Adds a scale that looks at its own level round about.
void addNear(const LightTile &lab, const Scale &scale, LightTile &out)
{
    const Rect &wide = lab.area();
    const Rect &part = out.area();
    const PlaneRows L{lab.row(0, wide.y0), lab.stride(), wide.width(), wide.height()};
    const GuidedMean mean(scale.sigma, GuidedMean::Divided::Beforehand);
    const auto add = [&](int y, const float *slope, const float *offset) {
        addTexture(lab.at(0, part.x0, y), slope, offset, scale.amount, part.width(), out.row(0, y));
    };
    if (isEveryOther(scale)) {
        const auto lines = mean.everyOther(L, kEdgeVariance);
        FilledRows slopes(lines.slope, wide.x0, wide.y0, part);
        FilledRows offsets(lines.offset, wide.x0, wide.y0, part);
        for (int y = part.y0; y < part.y1; ++y)
            add(y, slopes.row(y), offsets.row(y));
        return;
    }
    const int x = part.x0 - wide.x0;
    mean.linesByRow(L, kEdgeVariance, [&](int at, const float *slope, const float *offset) {
        if (const int y = wide.y0 + at; y >= part.y0 && y < part.y1)
            add(y, slope + x, offset + x);
    });
}

/// Adds one that is found in reduced light.
Result<void> addFar(const Source &in, int level, const LightTile &lab, const Scale &scale,
                    const LightSpace &space, LightTile &out, const Run &run)
{
    const Rect &part = out.area();
    const GuidedMean mean(scale.sigma / scale.step, GuidedMean::Divided::Beforehand);
    auto about = readCoarse(in, level, part, scale.step, mean.reach() + 1, run);
    if (!about)
        return about.error();
    toLab(about->light, space.toLms);
    const Plane reduced = reducedPlane(*about, 0);
    const auto [slopes, offsets] = mean.lines(reduced, kEdgeVariance);
    EnlargedRows slope(slopes, about->area, part, scale.step);
    EnlargedRows offset(offsets, about->area, part, scale.step);
    for (int y = part.y0; y < part.y1; ++y)
        addTexture(lab.at(0, part.x0, y), slope.row(y), offset.row(y), scale.amount, part.width(),
                   out.row(0, y));
    return {};
}

} // namespace

LightChange Texture::change(const LightSpace &space) const
{
    return [values = *this, space = LightSpace(space)](const Source &in, int level, LightTile &out,
                                                       const Run &run) -> Result<void> {
        const std::vector<Scale> scales = scalesAt(values, level);
        if (scales.empty())
            return in.readPlanes(level, out, run);
        const Rect part = out.area();
        LightTile lab(nearArea(part, scales, in.rectOf(level)));
        if (auto done = in.readPlanes(level, lab, run); !done)
            return done;
        toLab(lab, space.toLms);
        out.becomePartOf(lab);
        for (const Scale &scale : scales) {
            if (scale.step == 1)
                addNear(lab, scale, out);
            else if (auto done = addFar(in, level, lab, scale, space, out, run); !done)
                return done;
        }
        for (int y = part.y0; y < part.y1; ++y) {
            notNegativeRow(part.width(), out.row(0, y));
            if (!out.isNeutral())
                followRow(lab.at(0, part.x0, y), out.row(0, y), part.width(), out.row(1, y),
                          out.row(2, y));
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

int Blur::readsAroundPx() const
{
    return CoarsePlane::stepFor(double(radiusPx)) == 1 ? reachPx() : 0;
}

LightChange Blur::change(const LightSpace &) const
{
    return [px = double(radiusPx)](const Source &in, int level, LightTile &out,
                                   const Run &run) -> Result<void> {
        constexpr double kLeastBlur = 0.2; // px of a level
        const double sigma = px / double(1 << level);
        if (sigma < kLeastBlur)
            return in.readPlanes(level, out, run);
        const int step = CoarsePlane::stepFor(sigma);
        const GuidedMean mean(sigma / step);
        const Rect part = out.area();
        const auto coarse = readCoarse(in, level, part, step, mean.radius() + 1, run);
        if (!coarse)
            return coarse.error();
        out.setArea(part, coarse->light.planes());
        for (int c = 0; c < out.planes(); ++c) {
            const Plane made = mean.mean(reducedPlane(*coarse, c));
            const Rect &all = coarse->area;
            EnlargedRows rows(made, all, part, step);
            for (int y = part.y0; y < part.y1; ++y)
                std::copy_n(step == 1 ? made.row(y - all.y0) + (part.x0 - all.x0) : rows.row(y),
                            part.width(), out.row(c, y));
        }
        return {};
    };
}

} // namespace buttonhole
