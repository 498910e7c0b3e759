#include "tone/hue_curve.h"

namespace buttonhole
{

namespace
{

/// The knots between two neighbouring points that lie `gap` degrees apart.
void addBetween(const HuePoint &a, const HuePoint &b, double from, double gap,
                std::vector<MonotoneSpline::Knot> &knots)
{
    const double reach = a.widthDeg + b.widthDeg;
    if (reach <= gap) {
        knots.push_back({from + double(a.widthDeg), 0});
        if (reach < gap)
            knots.push_back({from + gap - double(b.widthDeg), 0});
        return;
    }
    // Where the widths overlap wholly, the curve runs straight; at first touch it still falls to 0.
    const double share = double(a.widthDeg) / reach;
    const double overlap = std::min((reach - gap) / gap, 1.0);
    knots.push_back(
        {from + gap * share, overlap * (double(a.value) + double(b.value - a.value) * share)});
}

} // namespace

double hueDistance(double a, double b)
{
    return std::remainder(b - a, 360.0);
}

std::vector<HuePoint> tidied(const std::vector<HuePoint> &points)
{
    std::vector<HuePoint> out;
    for (const HuePoint &point : points) {
        std::erase_if(out, [&](const HuePoint &other) {
            return std::abs(hueDistance(other.hueDeg, point.hueDeg)) < double(kLeastHueGap);
        });
        out.push_back(point);
    }
    std::sort(out.begin(), out.end(),
              [](const HuePoint &a, const HuePoint &b) { return a.hueDeg < b.hueDeg; });
    return out;
}

size_t grabHuePoint(std::vector<HuePoint> &points, float hueDeg)
{
    size_t nearest = points.size();
    for (size_t i = 0; i < points.size(); ++i) {
        const double away = std::abs(hueDistance(points[i].hueDeg, hueDeg));
        if (away <= double(std::max(points[i].widthDeg / 2, kLeastHueGap)) &&
            (nearest == points.size() ||
             away < std::abs(hueDistance(points[nearest].hueDeg, hueDeg))))
            nearest = i;
    }
    if (nearest < points.size())
        return nearest;
    HuePoint fresh;
    fresh.hueDeg = hueDeg;
    fresh.value = float(HueCurve(points).value(hueDeg));
    const auto next =
        std::upper_bound(points.begin(), points.end(), hueDeg,
                         [](float hue, const HuePoint &point) { return hue < point.hueDeg; });
    const auto at = points.insert(next, fresh);
    return size_t(at - points.begin());
}

MonotoneSpline HueCurve::splineOf(std::vector<HuePoint> points)
{
    points = tidied(points);
    if (points.empty())
        return MonotoneSpline({{0, 0}});
    // One turn and a half to either side, so that 0 and 360 see the same neighbours.
    std::vector<MonotoneSpline::Knot> knots;
    for (int turn = -1; turn <= 1; ++turn)
        for (size_t i = 0; i < points.size(); ++i) {
            const HuePoint &next = points[(i + 1) % points.size()];
            const double at = double(points[i].hueDeg) + 360.0 * turn;
            double gap = double(next.hueDeg) - double(points[i].hueDeg);
            if (i + 1 == points.size())
                gap += 360;
            knots.push_back({at, points[i].value});
            addBetween(points[i], next, at, gap, knots);
        }
    return MonotoneSpline(std::move(knots));
}

HueCurve::HueCurve(const std::vector<HuePoint> &points) : m_spline(splineOf(points)) {}

double HueCurve::value(double hueDeg) const
{
    return m_spline(hueDeg - 360 * std::floor(hueDeg / 360));
}

} // namespace buttonhole
