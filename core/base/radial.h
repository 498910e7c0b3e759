#pragma once

#include <array>
#include <cstddef>

namespace buttonhole
{

/// A factor of something round the middle of a photo: a polynomial of the distance from there, in
/// half diagonals of the photo. As a lens's distortion: a point that a straight lens would show at
/// the distance r lies at r times this.
struct Radial {
    std::array<float, 7> by{1, 0, 0, 0, 0, 0, 0}; ///< of r to the power of 0 to 6

    double at(double r) const
    {
        double out = 0;
        for (std::size_t i = by.size(); i > 0; --i)
            out = out * r + double(by[i - 1]);
        return out;
    }
    /// Of r times this, by r.
    double slopeAt(double r) const
    {
        double out = 0;
        for (std::size_t i = by.size(); i > 0; --i)
            out = out * r + double(i) * double(by[i - 1]);
        return out;
    }
    bool isNone() const { return *this == Radial(); }
    /// A part of its effect, or more than all.
    Radial times(float strength) const
    {
        Radial out;
        for (std::size_t i = 0; i < by.size(); ++i)
            out.by[i] += strength * (by[i] - out.by[i]);
        return out;
    }
    friend bool operator==(const Radial &, const Radial &) = default;
};

} // namespace buttonhole
