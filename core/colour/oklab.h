#pragma once

#include "colour/matrix.h"

namespace buttonhole
{

/// OKLab: a perceptual space. L 0 (black) .. 1 (diffuse white), a and b about -0.4 .. 0.4.
/// Source: B. Ottosson, "A perceptual color space for image processing", 2020.
struct Oklab {
    double L = 0;
    double a = 0;
    double b = 0;
};

/// CIE XYZ of the D65 white, Y = 1 (CIE 15, 2 degree observer, as in IEC 61966-2-1).
inline constexpr Vector3 kWhiteD65{0.95047, 1.0, 1.08883};

/// XYZ (D65) to OKLab's cone response LMS, linear; white is exactly (1, 1, 1).
inline Matrix3 xyzToLms()
{
    const Matrix3 published{{{0.8189330101, 0.3618667424, -0.1288597137},
                             {0.0329845436, 0.9293118715, 0.0361456387},
                             {0.0482003018, 0.2643662691, 0.6338517070}}};
    return withWhite(published, kWhiteD65, {1.0, 1.0, 1.0});
}

/// Cube-rooted LMS to L, a, b. As published but for the last number, which is 4e-8 lower here so
/// that b is exactly 0 for neutrals.
inline constexpr Matrix3 kLmsRootToLab{{{0.2104542553, 0.7936177850, -0.0040720468},
                                        {1.9779984951, -2.4285922050, 0.4505937099},
                                        {0.0259040371, 0.7827717662, -0.8086758033}}};

/// L, a, b to cube-rooted LMS: the inverse of kLmsRootToLab as published.
inline constexpr Matrix3 kLabToLmsRoot{{{1.0, 0.3963377774, 0.2158037573},
                                        {1.0, -0.1055613458, -0.0638541728},
                                        {1.0, -0.0894841775, -1.2914855480}}};

/// Any XYZ, also outside the visible gamut (negative cone responses keep their sign).
inline Oklab toOklab(const Vector3 &xyz)
{
    static const Matrix3 toLms = xyzToLms();
    const Vector3 lms = toLms * xyz;
    const Vector3 lab =
        kLmsRootToLab * Vector3{std::cbrt(lms[0]), std::cbrt(lms[1]), std::cbrt(lms[2])};
    return {lab[0], lab[1], lab[2]};
}

inline Vector3 toXyz(const Oklab &lab)
{
    static const Matrix3 lmsToXyz = inverse(xyzToLms());
    const Vector3 root = kLabToLmsRoot * Vector3{lab.L, lab.a, lab.b};
    return lmsToXyz * Vector3{root[0] * root[0] * root[0], root[1] * root[1] * root[1],
                              root[2] * root[2] * root[2]};
}

/// Chroma C >= 0, 0 for neutrals.
inline double chroma(const Oklab &lab)
{
    return std::hypot(lab.a, lab.b);
}

/// Hue in degrees, 0 .. 360; 0 for neutrals.
inline double hueDeg(const Oklab &lab)
{
    if (lab.a == 0 && lab.b == 0)
        return 0;
    const double deg = std::atan2(lab.b, lab.a) * 180.0 / 3.14159265358979323846;
    return deg < 0 ? deg + 360.0 : deg;
}

} // namespace buttonhole
