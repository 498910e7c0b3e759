#pragma once

#include "mask_score.h"
#include "segment/region_solver.h"

#include <chrono>
#include <functional>
#include <optional>

namespace buttonhole::bench
{

/// How marks become a mask.
using Solve = std::function<Result<MaskPlane>(const RegionAsk &)>;

double msSince(std::chrono::steady_clock::time_point start);

/// The window's way. @param asSubject with what the nets know
Solve solverFor(const PhotoLevels &levels, bool asSubject);
/// Ends the program where it fails.
cv::Mat1f solved(const Solve &solve, const RegionAsk &ask, double &ms);

RegionMark clickOn(const WorstError &worst);

/// A user who clicks in the middle of the largest error.
/// @param first where to click first; none: in the middle as well
/// @param aside further clicks miss the middle by up to that share of its way to the edge
/// @return IoU after each click
std::vector<double> playClicks(const Solve &solve, const cv::Mat1f &matte, int most,
                               std::optional<PhotoPoint> first, float aside);
/// How many clicks it took; one more than there were: it was not reached.
int clicksTo(double iou, const std::vector<double> &ious);

/// Places well inside, not just in the middle.
std::vector<PhotoPoint> placesIn(const cv::Mat1f &matte, int count);
/// Larger by a tenth of its size on each side.
Rect looseBox(const cv::Mat1f &matte);

} // namespace buttonhole::bench
