#pragma once

#include "raster/image.h"

#include <vector>

namespace buttonhole
{

using Plane = Image<float>; ///< of one channel

/// Gaussian means and guided filters whose value at a pixel is the same bits wherever the plane is
/// cut, as long as the pixel's reach lies inside or the plane ends at the picture's border.
class GuidedMean
{
public:
    /// @param sigma standard deviation, px of the plane, above 0
    explicit GuidedMean(double sigma);

    int radius() const { return int(m_weights.size()) - 1; }
    /// How far round a pixel smoothed() looks, px of the plane.
    int reach() const { return 2 * radius(); }
    Plane mean(const Plane &in) const;
    /// `in` smoothed where `guide` has no edge (K. He, J. Sun, X. Tang, "Guided image filtering",
    /// 2013). @param eps variance of the guide that counts as none
    Plane smoothed(const Plane &in, const Plane &guide, float eps) const;
    /// Of each pixel the line that makes of the guide what is smooth of it: smoothed() is slope
    /// times guide plus offset.
    struct Lines {
        Plane slope;
        Plane offset;
    };
    Lines lines(const Plane &guide, float eps) const { return lines(guide, guide, eps); }

private:
    Lines lines(const Plane &in, const Plane &guide, float eps) const;
    std::vector<float> m_weights; ///< of the middle, 1 px beside it, ...
};

} // namespace buttonhole
