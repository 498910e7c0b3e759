#pragma once

#include <opencv2/core.hpp>

namespace buttonhole
{

/// Finds the labels of least cost: each pixel pays for going against its evidence, neighbours of
/// different labels pay where their colours are alike.
/// @param lab      OKLab
/// @param evidence logit that the pixel is inside, cost units
/// @param labels   in: 0 or 255 where `open` is 0, which stay; out: all
/// @param open     255 where the label is to be found
/// @param tie      cost of a border between neighbours of the same colour
/// Source: Y. Boykov, M.-P. Jolly, "Interactive graph cuts for optimal boundary and region
/// segmentation of objects in N-D images", 2001; the flow is OpenCV's.
void cutGraph(const cv::Mat3f &lab, const cv::Mat1f &evidence, cv::Mat1b &labels,
              const cv::Mat1b &open, float tie);

} // namespace buttonhole
