#pragma once

#include "base/photo_point.h"
#include "io/photo_levels.h"
#include "raster/mask_plane.h"

#include <opencv2/core.hpp>

#include <string>
#include <vector>

namespace buttonhole::bench
{

/// How a mask compares with the exact matte.
struct Score {
    double iou = 0;           ///< intersection over union, both cut at half coverage
    double f = 0;             ///< F score (Dice), of the same
    double softIou = 0;       ///< sum of least over sum of greatest coverages
    double error = 0;         ///< mean absolute, 0..1
    double bandError = 0;     ///< the same within 10 px to either side of the true edge
    double wideBandError = 0; ///< and within 20 px
};

/// A thing in a demo photo, with its exact matte.
struct DemoSubject {
    std::string photo;
    std::string name;
};
const std::vector<DemoSubject> &demoSubjects();
/// Ends the program where there is none.
std::shared_ptr<const PhotoLevels> loadDemo(const std::string &photo);
/// A matte of the demo folder, 0..1. Ends the program where there is none.
cv::Mat1f readMatte(const std::string &name);
cv::Mat1f readMatteFile(const std::string &file);
Score compare(const cv::Mat1f &mask, const cv::Mat1f &matte);

/// The middle of the largest error, where one would click next.
struct WorstError {
    PhotoPoint at;
    double radiusPx = 0;    ///< of the largest disc in it
    bool isTooMuch = false; ///< otherwise: missing
};
WorstError worstError(const cv::Mat1f &mask, const cv::Mat1f &matte);
cv::Mat1f toMat(const MaskPlane &plane);

} // namespace buttonhole::bench
