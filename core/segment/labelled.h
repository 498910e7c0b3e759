#pragma once

#include "base/rect.h"

#include <opencv2/core.hpp>

namespace buttonhole
{

/// What belongs to a region in a part of the photo.
struct Labelled {
    Rect area;        ///< px of the photo
    cv::Mat1b labels; ///< 0 or 255 over it, of any smaller size

    /// The same as seen over another area, `size` labels of it; beyond this one there is nothing.
    cv::Mat1b over(const Rect &other, cv::Size size) const;

    /// This, and what lies beyond it over a larger area, with `longEdge` labels.
    Labelled enlarged(const Rect &other, int longEdge) const;

    /// Some of the labels, px of the photo.
    Rect inPhoto(const cv::Rect &part) const;
};

} // namespace buttonhole
