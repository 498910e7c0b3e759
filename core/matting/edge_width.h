#pragma once

#include <opencv2/core.hpp>

namespace buttonhole
{

/// How far around a pixel foundWidth() looks, px.
constexpr int kFoundWidthMargin = 20;

/// How far to either side of a mask's edge the photo's own edge is blurred: a pixel or two where it
/// is sharp.
/// @param lab  OKLab; @param away px from the mask's edge, to either side
/// @return px, 1..EdgeBand::kMostFoundPx, of what lies round about each pixel: 1 and 1.5 standard
///         deviations of the blur, a sharp edge's being about 1 px
/// Source: S. Zhuo, T. Sim, "Defocus map estimation from a single image", 2011: the blur of an edge
/// from the ratio of its gradients after two known blurs; strong gradients count most.
cv::Mat1f foundWidth(const cv::Mat3f &lab, const cv::Mat1f &away);

} // namespace buttonhole
