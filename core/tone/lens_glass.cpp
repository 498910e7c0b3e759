#include "tone/lens_glass.h"

#include "colour/profile.h"

#include <cmath>

namespace buttonhole
{

namespace
{

/// Dark below the edge, clear above it.
double longPass(double nm, double edgeNm)
{
    constexpr double kClear = 0.93; // two surfaces reflect the rest
    constexpr double kDark = 0.02;
    return kDark + (kClear - kDark) / (1 + std::exp(-(nm - edgeNm) / 9.0));
}

double bandPass(double nm, double centreNm, double widthNm)
{
    const double off = (nm - centreNm) / widthNm;
    return 0.03 + 0.75 * std::exp(-0.5 * off * off);
}

double glassAt(Glass glass, double nm)
{
    switch (glass) {
    case Glass::Yellow:
        return longPass(nm, 490);
    case Glass::Orange:
        return longPass(nm, 545);
    case Glass::Red:
        return longPass(nm, 590);
    case Glass::Green:
        return bandPass(nm, 535, 38);
    case Glass::Blue:
        return bandPass(nm, 450, 42);
    case Glass::None:
        break;
    }
    return 1;
}

} // namespace

double transmission(Glass glass, double nm, double thickness)
{
    return std::pow(glassAt(glass, nm), thickness);
}

Vector3 transmissionOfPrimaries(Glass glass, double thickness)
{
    constexpr double kCentres[3] = {610, 545, 455};
    constexpr double kWidths[3] = {30, 32, 24};
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c) {
        double light = 0;
        double passed = 0;
        for (int nm = 380; nm <= 720; nm += 2) {
            const double off = (nm - kCentres[c]) / kWidths[c];
            const double here = std::exp(-0.5 * off * off);
            light += here;
            passed += here * transmission(glass, nm, thickness);
        }
        out[c] = passed / light;
    }
    return out;
}

Matrix3 glassMatrix(Glass glass, double thickness, const Matrix3 &toXyz)
{
    const Vector3 t = transmissionOfPrimaries(glass, thickness);
    const Matrix3 toSrgb = inverse(Profile::srgb().toXyz()) * toXyz;
    const Matrix3 filter{{{t[0], 0, 0}, {0, t[1], 0}, {0, 0, t[2]}}};
    return inverse(toSrgb) * (filter * toSrgb);
}

} // namespace buttonhole
