#pragma once

#include <opencv2/core.hpp>

namespace buttonhole
{

/// What lies on which side of an edge, cut anew from evidence.
struct EdgeLabels {
    cv::Mat1b inside; ///< 255 inside
    cv::Mat1b anew;   ///< 255 where they are cut anew, 0 where they are the soft mask's
};

/// How far around a pixel edgeLabels() looks, px.
int edgeLabelsReach();

/// A mask cut in two. Evidence decides, and neighbours of like colour stay together, which would
/// take what is as thin as grass and threads off one side or the other: there the soft mask is cut
/// at a half.
/// @param lab      OKLab
/// @param soft     0..1
/// @param evidence logits that pixels are inside
/// @param open     255 where evidence decides; elsewhere the side that `depth` says stays
/// @param depth    px into what was inside before, negative outside
/// Method: mean field annealing of a contrast-sensitive Ising model, a fixed number of rounds so
/// that parts come out as the whole does (D. Geiger, F. Girosi, "Parallel and deterministic
/// algorithms from MRFs: surface reconstruction", 1991).
EdgeLabels edgeLabels(const cv::Mat3f &lab, const cv::Mat1f &soft, const cv::Mat1f &evidence,
                      const cv::Mat1b &open, const cv::Mat1f &depth);

} // namespace buttonhole
