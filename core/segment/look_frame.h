#pragma once

#include "base/photo_point.h"
#include "base/run.h"
#include "io/photo_levels.h"

#include <opencv2/core.hpp>

namespace buttonhole
{

/// A part of the photo at the size that it is looked at for cutting things out. For .cpp files of
/// the core only: OpenCV stays out of what others include.
struct LookFrame {
    Rect area;        ///< level-0 px
    double scale = 1; ///< frame px to one px of the photo
    cv::Mat3f lab;    ///< OKLab

    cv::Point2d toFrame(const PhotoPoint &at) const
    {
        return {double(at.x - float(area.x0)) * scale, double(at.y - float(area.y0)) * scale};
    }
    cv::Rect rect() const { return {0, 0, lab.cols, lab.rows}; }
};

/// @param area     level-0 px inside the photo
/// @param longEdge of the frame, px; a smaller area is not enlarged
LookFrame readFrame(const PhotoLevels &levels, const Rect &area, int longEdge);

/// OKLab of a level's pixels. @param area px of that level, inside it
cv::Mat3f readLab(const PhotoLevels &levels, int level, const Rect &area);

} // namespace buttonhole
