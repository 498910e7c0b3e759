#include "light/point_curve.h"

#include "light/lab_tile.h"
#include "light/lightness_curve.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr std::array kPlaces = {0.0, 0.1, 0.3, 0.5, 0.7, 0.9, 1.0};
using Points = std::array<double, kPlaces.size()>;

/// Where the places go; one that would fall below the one before it stays at its height.
Points pointsOf(const PointCurve &curve)
{
    constexpr double kMost = 0.2;
    const float by[] = {0, curve.darkest, curve.darker, curve.middle, curve.lighter, curve.lightest,
                        0};
    Points out{};
    for (size_t i = 0; i < out.size(); ++i) {
        out[i] = std::clamp(kPlaces[i] + kMost * double(by[i]), 0.0, 1.0);
        if (i > 0)
            out[i] = std::max(out[i], out[i - 1]);
    }
    return out;
}

double secant(const Points &points, size_t i)
{
    return (points[i + 1] - points[i]) / (kPlaces[i + 1] - kPlaces[i]);
}

/// The slope in a point: the harmonic mean of both sides, weighted by their lengths; 0 in a turn.
double slopeAt(const Points &points, size_t i)
{
    if (i == 0 || i + 1 == points.size())
        return secant(points, i == 0 ? 0 : i - 1);
    const double before = secant(points, i - 1);
    const double after = secant(points, i);
    if (before * after <= 0)
        return 0;
    const double left = kPlaces[i] - kPlaces[i - 1];
    const double right = kPlaces[i + 1] - kPlaces[i];
    return 3 * (left + right) / ((2 * right + left) / before + (right + 2 * left) / after);
}

double through(const Points &points, double L)
{
    if (L <= 0 || L >= 1)
        return L <= 0 ? 0 : points.back() + (L - 1);
    size_t i = 0;
    while (L > kPlaces[i + 1])
        ++i;
    const double length = kPlaces[i + 1] - kPlaces[i];
    const double t = (L - kPlaces[i]) / length;
    const double rest = 1 - t;
    return points[i] * (1 + 2 * t) * rest * rest + slopeAt(points, i) * length * t * rest * rest +
           points[i + 1] * t * t * (3 - 2 * t) - slopeAt(points, i + 1) * length * t * t * rest;
}

} // namespace

std::span<const Param<PointCurve>> PointCurve::rows()
{
    using P = PointCurve;
    static constexpr ParamScale kPercent{100};
    static constexpr Param<P> kRows[] = {
        {"darkest", [](P &p) -> float & { return p.darkest; }, -1, 1, kSince, kPercent},
        {"darker", [](P &p) -> float & { return p.darker; }, -1, 1, kSince, kPercent},
        {"middle", [](P &p) -> float & { return p.middle; }, -1, 1, kSince, kPercent},
        {"lighter", [](P &p) -> float & { return p.lighter; }, -1, 1, kSince, kPercent},
        {"lightest", [](P &p) -> float & { return p.lightest; }, -1, 1, kSince, kPercent}};
    return kRows;
}

double PointCurve::at(double L) const
{
    return through(pointsOf(*this), L);
}

LightChange PointCurve::change(const LightSpace &space) const
{
    const Points points = pointsOf(*this);
    const auto curve =
        std::make_shared<const LightnessCurve>([&](double L) { return through(points, L); });
    return [curve, toLms = space.toLms, fromLms = space.fromLms](
               const Source &in, int level, LightTile &out, const Run &run) -> Result<void> {
        if (auto done = in.readPlanes(level, out, run); !done)
            return done;
        toLab(out, toLms);
        forEachRun(out, [&](int n, float *L, float *a, float *b) {
            out.isNeutral() ? curve->apply(n, L) : curve->apply(1, 0, n, L, a, b);
        });
        fromLab(out, fromLms);
        return {};
    };
}

} // namespace buttonhole
