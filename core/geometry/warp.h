#pragma once

#include "base/param.h"
#include "base/radial.h"
#include "base/rect.h"

#include <array>

namespace buttonhole
{

/// How the photo is levelled: turned, and seen as by a camera that was held straight. A tilt is
/// that of a camera whose focal length is its picture's diagonal.
struct Straightening {
    float angleDeg = 0;      ///< -45..45, clockwise
    float verticalDeg = 0;   ///< -40..40: uprights that lean together at the top are set apart
    float horizontalDeg = 0; ///< -40..40: level lines that run together at the right likewise

    static std::span<const Param<Straightening>> rows();
    bool isNone() const { return *this == Straightening(); }
    friend bool operator==(const Straightening &, const Straightening &) = default;
};

/// The way between a photo and the same levelled, its lens's distortion taken out: both W x H px,
/// their middles in one place and drawn to one scale. Plain values; by default there is none.
class Warp
{
public:
    using Place = std::array<double, 2>; ///< px, pixel centres at +0.5

    Warp() = default;
    Warp(const Straightening &straightening, const Radial &distortion, int width, int height);

    bool isNone() const { return m_isNone; }
    Place toPhoto(double x, double y) const;
    Place toLevelled(double x, double y) const;
    uint64_t content() const;

    /// All of that rectangle of the levelled photo is photo.
    bool isFilled(const Rect &levelled) const;
    /// The largest of the photo's proportions that is.
    Rect largestFilled() const;
    /// One brought into what is filled: moved towards the middle, made smaller as far as it must.
    Rect filledPart(const Rect &levelled) const;

    friend bool operator==(const Warp &, const Warp &) = default;

private:
    using Matrix = std::array<double, 9>;
    bool isFilled(double x0, double y0, double x1, double y1) const;
    Rect findLargest() const;

    bool m_isNone = true;
    double m_width = 0;
    double m_height = 0;
    double m_unit = 1;  ///< half the diagonal, px
    Matrix m_toPhoto{}; ///< of units from the middle
    Matrix m_toLevelled{};
    Radial m_distortion; ///< of the photo, once it is turned back
};

} // namespace buttonhole
