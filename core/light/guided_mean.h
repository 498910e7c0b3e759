#pragma once

#include "raster/image.h"

#include <functional>
#include <vector>

namespace buttonhole
{

using Plane = Image<float>; ///< of one channel

/// Rows of somebody else's plane.
struct PlaneRows {
    const float *first = nullptr;
    size_t stride = 0; ///< floats from row to row
    int width = 0;
    int height = 0;

    const float *row(int y) const { return first + size_t(y) * stride; }
};

/// Gaussian means and guided filters whose value at a pixel is the same bits wherever the plane is
/// cut, as long as the pixel's reach lies inside or the plane ends at the picture's border.
class GuidedMean
{
public:
    /// What weights are divided by: by all of them beforehand, which is quicker, or by those that
    /// lie inside afterwards, which rounds otherwise.
    enum class Divided { Beforehand, Afterwards };
    /// @param sigma standard deviation, px of the plane, above 0
    explicit GuidedMean(double sigma, Divided divided = Divided::Afterwards);

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
    /// The same, row after row.
    using TakeLines = std::function<void(int y, const float *slope, const float *offset)>;
    void linesByRow(const PlaneRows &guide, float eps, const TakeLines &take) const
    {
        linesByRow(guide, guide, eps, take);
    }
    /// The same at every other pixel both ways, from the first on, for a quarter of the work: lines
    /// are smooth where sigma is kLeastEveryOther or more (K. He, J. Sun, "Fast guided filter",
    /// 2015). Looks reach() round a pixel, too. Weights must be divided beforehand.
    Lines everyOther(const PlaneRows &guide, float eps) const;
    static constexpr double kLeastEveryOther = 1.2;

private:
    Lines lines(const Plane &in, const Plane &guide, float eps) const;
    void linesByRow(const PlaneRows &in, const PlaneRows &guide, float eps,
                    const TakeLines &take) const;
    double m_sigma;
    std::vector<float> m_weights; ///< of the middle, 1 px beside it, ...
    bool m_isDivided;
};

} // namespace buttonhole
