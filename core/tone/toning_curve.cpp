#include "tone/toning_curve.h"

#include "colour/oklab.h"
#include "colour/profile.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

bool isInGamut(const Vector3 &rgb)
{
    return std::all_of(rgb.begin(), rgb.end(),
                       [](double v) { return v >= -1e-6 && v <= 1 + 1e-6; });
}

/// The colour of axes a, b at luminance y: scaled as light, which keeps hue and saturation.
Oklab atLuminance(double lightness, double a, double b, double y)
{
    const double now = toXyz({lightness, a, b})[1];
    const double scale = now > 0 ? std::cbrt(y / now) : 0;
    return {lightness * scale, a * scale, b * scale};
}

} // namespace

ToningCurve makeToningCurve(const Toning &toning)
{
    constexpr double kRad = 3.14159265358979323846 / 180;
    const Matrix3 toSrgb = inverse(Profile::srgb().toXyz());
    ToningCurve out;
    for (int i = 0; i < kToningSteps + 2; ++i) {
        const double t = std::min(double(i) / kToningSteps, 1.0);
        // The two colours pass into each other around the balance.
        const double centre = 0.5 + 0.35 * double(toning.balance) / 100;
        const double x = std::clamp((t - centre) / 0.6 + 0.5, 0.0, 1.0);
        const double high = x * x * (3 - 2 * x);
        const double ends = 1 - std::pow(2 * t - 1, 4);
        const double shadow =
            double(toning.shadowSaturation / 100) * kToningChroma * (1 - high) * ends;
        const double light = double(toning.highlightSaturation / 100) * kToningChroma * high * ends;
        const double a = shadow * std::cos(double(toning.shadowHueDeg) * kRad) +
                         light * std::cos(double(toning.highlightHueDeg) * kRad);
        const double b = shadow * std::sin(double(toning.shadowHueDeg) * kRad) +
                         light * std::sin(double(toning.highlightHueDeg) * kRad);
        Oklab lab = atLuminance(t, a, b, t * t * t);
        if (!isInGamut(toSrgb * toXyz(lab))) { // as much of the chroma as fits
            double fits = 0;
            double tooMuch = 1;
            for (int k = 0; k < 20; ++k) {
                const double share = (fits + tooMuch) / 2;
                lab = atLuminance(t, a * share, b * share, t * t * t);
                (isInGamut(toSrgb * toXyz(lab)) ? fits : tooMuch) = share;
            }
            lab = atLuminance(t, a * fits, b * fits, t * t * t);
        }
        out.L.push_back(float(lab.L));
        out.a.push_back(float(lab.a));
        out.b.push_back(float(lab.b));
    }
    return out;
}

const std::vector<ReadyTone> &readyTones()
{
    static const std::vector<ReadyTone> tones = {
        {"Warm", {70, 14, 80, 10, 0, false}},         {"Sepia", {62, 48, 78, 34, 0, false}},
        {"Selenium", {340, 22, 30, 5, 10, false}},    {"Cyan-blue", {245, 46, 220, 26, 0, false}},
        {"Aged paper", {75, 12, 92, 40, -30, false}},
    };
    return tones;
}

} // namespace buttonhole
