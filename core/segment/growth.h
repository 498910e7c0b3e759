#pragma once

#include <opencv2/core.hpp>

namespace buttonhole
{

/// Growing from a mark: how far is enough.
struct Growth {
    float least = 0.02F; ///< costs between which it may come to rest, OKLab
    float most = 1;
    double largestPx = 1e9; ///< more than that never joins
    double eager = 1;       ///< below 1: goes on if that stands out by this share as much
};

struct Rest {
    float cost = 0;
    double standsOut = 0; ///< 0..1.12: how much what grew differs from what lies round it
};

/// The cost at which what grew from a mark differs most from what lies round it: by the overlap of
/// their colours (Bhattacharyya coefficient), and by the contrast along the border.
/// @param lab     OKLab
/// @param cost    geodesic distance from the mark
/// @param settled 255 where nothing may change and nothing counts; may be empty
Rest restingCost(const cv::Mat3f &lab, const cv::Mat1f &cost, const cv::Mat1b &settled,
                 const Growth &growth);

} // namespace buttonhole
