#include "tone/tone_curve.h"

#include "tone/monotone_spline.h"

#include <functional>

namespace buttonhole
{

namespace
{

/// From 0 to 1 with slope `k` at 1 and 1 / k at 0; its inverse has 1 / k for k.
double bent(double x, double k)
{
    return x / (x + k * (1 - x));
}

double contrasted(double x, double amount, double pivot)
{
    const double k = std::exp2(amount / 100 * 1.5);
    return x < pivot ? pivot * bent(x / pivot, k)
                     : 1 - (1 - pivot) * bent((1 - x) / (1 - pivot), k);
}

/// Highest (1) at a quarter, 0 at both ends. Times 0.09 its slope stays above -1.
double lowHump(double x)
{
    return x * (1 - x) * (1 - x) * (1 - x) / 0.10546875;
}

MonotoneSpline splineOf(const std::vector<CurvePoint> &points)
{
    std::vector<MonotoneSpline::Knot> knots;
    if (points.empty() || points.front().x > 0)
        knots.push_back({0, 0});
    for (const CurvePoint &point : points)
        knots.push_back({point.x, point.y});
    if (points.empty() || points.back().x < 1)
        knots.push_back({1, 1});
    return MonotoneSpline(std::move(knots));
}

std::function<double(double)> curveOf(const Tone &tone)
{
    return [tone, spline = splineOf(tone.curve)](double lightness) {
        double x = std::clamp((lightness - double(tone.black)) / double(tone.white - tone.black),
                              0.0, 1.0);
        if (tone.middle != 0.5F) // bent() takes `middle` to a half
            x = bent(x, tone.middle / (1 - tone.middle));
        constexpr double kHump = 0.09;
        x += kHump * (double(tone.shadows / 100) * lowHump(x) +
                      double(tone.highlights / 100) * lowHump(1 - x));
        if (tone.contrast != 0)
            x = contrasted(x, tone.contrast, tone.pivot);
        return std::clamp(tone.curve.empty() ? x : spline(x), 0.0, 1.0);
    };
}

} // namespace

std::vector<float> makeToneCurve(const Tone &tone)
{
    const auto curve = curveOf(tone);
    std::vector<float> out(kToneSteps + 2); // one more than there is, for interpolation at the end
    for (int i = 0; i <= kToneSteps; ++i)
        out[size_t(i)] = float(curve(double(i) / kToneSteps));
    out.back() = out[kToneSteps];
    return out;
}

double toneAt(const Tone &tone, double lightness)
{
    return curveOf(tone)(lightness);
}

} // namespace buttonhole
