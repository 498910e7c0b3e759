#pragma once

#include <opencv2/core.hpp>

namespace buttonhole
{

/// What a step from each pixel to its neighbours costs: the colour difference beyond `ignored`, and
/// `perPx` for its length.
class GeodesicSteps
{
public:
    /// @param lab     OKLab
    /// @param ignored difference between neighbours, OKLab, that is texture and costs nothing
    GeodesicSteps(const cv::Mat3f &lab, float ignored, float perPx);

    /// The least cost of a way from any seed to each pixel.
    /// @param seeds 0 where a way may start, otherwise what starting there costs (large: none)
    /// Source: P. Toivanen, "New geodesic distance transforms for gray-scale images", 1996: sweeps
    /// over the raster, here row by row, each from the row before and along itself both ways.
    cv::Mat1f distance(cv::Mat1f seeds) const;

private:
    float sweep(cv::Mat1f &out, bool down) const;

    cv::Mat1f m_across;    ///< to the right
    cv::Mat1f m_down;      ///< to the pixel below
    cv::Mat1f m_downRight; ///< and those beside it
    cv::Mat1f m_downLeft;
};

/// The least that must be put up with on the way from a seed (0) to each pixel: the greatest
/// difference from `colour` along the best way (a bottleneck path).
cv::Mat1f leastDifference(const cv::Mat3f &lab, const cv::Vec3f &colour, const cv::Mat1b &seeds);

/// The median difference between neighbours under `mask`, at most `most`: mere texture.
float textureUnder(const cv::Mat3f &lab, const cv::Mat1b &mask, float most);

} // namespace buttonhole
