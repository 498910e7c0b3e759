#pragma once

#include <array>
#include <cmath>

namespace buttonhole
{

using Vector3 = std::array<double, 3>;
/// Row-major 3 x 3.
using Matrix3 = std::array<std::array<double, 3>, 3>;

inline Vector3 operator*(const Matrix3 &m, const Vector3 &v)
{
    Vector3 out{};
    for (size_t i = 0; i < 3; ++i)
        out[i] = m[i][0] * v[0] + m[i][1] * v[1] + m[i][2] * v[2];
    return out;
}

inline Matrix3 operator*(const Matrix3 &a, const Matrix3 &b)
{
    Matrix3 out{};
    for (size_t i = 0; i < 3; ++i)
        for (size_t j = 0; j < 3; ++j)
            out[i][j] = a[i][0] * b[0][j] + a[i][1] * b[1][j] + a[i][2] * b[2][j];
    return out;
}

inline double determinant(const Matrix3 &m)
{
    return m[0][0] * (m[1][1] * m[2][2] - m[1][2] * m[2][1]) -
           m[0][1] * (m[1][0] * m[2][2] - m[1][2] * m[2][0]) +
           m[0][2] * (m[1][0] * m[2][1] - m[1][1] * m[2][0]);
}

/// The inverse; the determinant must not be 0.
inline Matrix3 inverse(const Matrix3 &m)
{
    const double d = 1.0 / determinant(m);
    Matrix3 out{};
    for (size_t i = 0; i < 3; ++i) {
        const size_t i1 = (i + 1) % 3;
        const size_t i2 = (i + 2) % 3;
        for (size_t j = 0; j < 3; ++j) {
            const size_t j1 = (j + 1) % 3;
            const size_t j2 = (j + 2) % 3;
            out[j][i] = d * (m[i1][j1] * m[i2][j2] - m[i1][j2] * m[i2][j1]);
        }
    }
    return out;
}

/// Scales each row so that `white` maps exactly onto `target`.
inline Matrix3 withWhite(Matrix3 m, const Vector3 &white, const Vector3 &target)
{
    const Vector3 now = m * white;
    for (size_t i = 0; i < 3; ++i)
        for (size_t j = 0; j < 3; ++j)
            m[i][j] *= target[i] / now[i];
    return m;
}

} // namespace buttonhole
