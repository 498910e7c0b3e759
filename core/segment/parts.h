#pragma once

#include <opencv2/core.hpp>

namespace buttonhole
{

/// The connected parts of a mask that touch a seed. Seeds outside the mask touch nothing.
/// @param mask, seeds  0 or 255
/// @param connectivity 4 or 8
cv::Mat1b partsTouching(const cv::Mat1b &mask, const cv::Mat1b &seeds, int connectivity);

/// The connected parts of a mask of less than so many px.
cv::Mat1b partsBelow(const cv::Mat1b &mask, double areaPx, int connectivity);

/// The connected parts of a mask of more than that share (0..1) of its largest.
cv::Mat1b largeParts(const cv::Mat1b &mask, double share, int connectivity);

} // namespace buttonhole
