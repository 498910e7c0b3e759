#include "light/white_balance.h"

#include "colour/oklab.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr Matrix3 kBradford{
    {{0.8951, 0.2664, -0.1614}, {-0.7502, 1.7135, 0.0367}, {0.0389, -0.0685, 1.0296}}};

/// XYZ of CIE 1960 u, v at Y = 1.
Vector3 xyzOf(double u, double v)
{
    const double d = 2 * u - 8 * v + 4;
    const double x = 3 * u / d;
    const double y = 2 * v / d;
    return {x / y, 1, (1 - x - y) / y};
}

/// The Planckian locus in CIE 1960 u, v, 1000..15000 K (M. Krystek, "An algorithm to calculate
/// correlated colour temperature", 1985).
std::array<double, 2> planckian(double kelvin)
{
    const double t = kelvin;
    return {(0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) /
                (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t),
            (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) /
                (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t)};
}

/// Log gains of the cones by one whole temperature, one whole green-magenta, and one of brightness:
/// columns.
const Matrix3 &logGains()
{
    static const Matrix3 gains = [] {
        constexpr double kWhiteK = 6504;
        constexpr double kMired = 200;
        constexpr double kDuv = 0.03;
        const auto white = planckian(kWhiteK);
        const auto warm = planckian(1e6 / (1e6 / kWhiteK + kMired / 2));
        const auto near = planckian(kWhiteK - 100);
        const double du = near[0] - white[0];
        const double dv = near[1] - white[1];
        const double length = std::hypot(du, dv);
        const Vector3 own = kBradford * xyzOf(white[0], white[1]);
        const Vector3 warmer = kBradford * xyzOf(warm[0], warm[1]);
        // Magenta is where v falls.
        const Vector3 pinker =
            kBradford * xyzOf(white[0] + kDuv * dv / length, white[1] - kDuv * du / length);
        Matrix3 out{};
        for (size_t i = 0; i < 3; ++i)
            out[i] = {2 * std::log(warmer[i] / own[i]), std::log(pinker[i] / own[i]), 1};
        return out;
    }();
    return gains;
}

} // namespace

Matrix3 balanceMatrix(double temperature, double greenMagenta, const LightSpace &space)
{
    if (temperature == 0 && greenMagenta == 0)
        return {{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
    const Vector3 logs = logGains() * Vector3{temperature, greenMagenta, 0};
    const Matrix3 gains{
        {{std::exp(logs[0]), 0, 0}, {0, std::exp(logs[1]), 0}, {0, 0, std::exp(logs[2])}}};
    Matrix3 xyz = inverse(kBradford) * gains * kBradford;
    const double luminance = (xyz * kWhiteD65)[1];
    for (auto &row : xyz)
        for (double &each : row)
            each /= luminance;
    const Matrix3 &toXyz = space.profile.toXyz();
    return inverse(toXyz) * xyz * toXyz;
}

WhiteBalance balanceFor(const Vector3 &rgb, const LightSpace &space)
{
    constexpr double kLeast = 1e-4;
    const Vector3 own = kBradford * (space.profile.toXyz() * rgb);
    const Vector3 white = kBradford * kWhiteD65;
    Vector3 logs{};
    for (size_t i = 0; i < 3; ++i)
        logs[i] = -std::log(std::max(own[i] / white[i], kLeast));
    const Vector3 out = inverse(logGains()) * logs;
    return {std::clamp(out[0], -1.0, 1.0), std::clamp(out[1], -1.0, 1.0)};
}

} // namespace buttonhole
