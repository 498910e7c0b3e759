#pragma once

#include "tone/grey_mix.h"
#include "tone/monotone_spline.h"

namespace buttonhole
{

/// The closed curve through the points of a mix: it goes through every point, falls to 0 a point's
/// width away from it and runs straight from point to point where their widths meet. Smooth, and
/// never beyond the points' values.
class HueCurve
{
public:
    explicit HueCurve(const std::vector<HuePoint> &points);
    /// @return -100..100
    double value(double hueDeg) const;

private:
    static MonotoneSpline splineOf(std::vector<HuePoint> points);
    MonotoneSpline m_spline;
};

/// The point that a hue belongs to: one not farther than half its width, or else a new one that
/// lies on the curve. Gives its place in `points`, which stay in order.
size_t grabHuePoint(std::vector<HuePoint> &points, float hueDeg);

/// The points in order of hue, no two closer than kLeastHueGap (the later one stays).
std::vector<HuePoint> tidied(const std::vector<HuePoint> &points);
inline constexpr float kLeastHueGap = 8;
/// Degrees from a to b, -180..180.
double hueDistance(double a, double b);

} // namespace buttonhole
