#pragma once

#include <opencv2/core.hpp>

namespace buttonhole
{

/// The least cost of a way from any seed to each pixel: the colour differences crossed on it beyond
/// `ignored`, and `perPx` for its length.
/// @param lab     OKLab
/// @param seeds   0 where a way may start, otherwise what starting there costs (large: none)
/// @param ignored difference between neighbours, OKLab, that is texture and costs nothing
/// Source: P. Toivanen, "New geodesic distance transforms for gray-scale images", 1996: sweeps over
/// the raster in four passes.
cv::Mat1f geodesicDistance(const cv::Mat3f &lab, cv::Mat1f seeds, float ignored, float perPx);

/// The least that must be put up with on the way from a seed (0) to each pixel: the greatest
/// difference from `colour` along the best way (a bottleneck path).
cv::Mat1f leastDifference(const cv::Mat3f &lab, const cv::Vec3f &colour, const cv::Mat1b &seeds);

/// The median difference between neighbours under `mask`, at most `most`: mere texture.
float textureUnder(const cv::Mat3f &lab, const cv::Mat1b &mask, float most);

} // namespace buttonhole
