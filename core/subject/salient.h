#pragma once

#include "segment/region_solver.h"

#include <opencv2/core.hpp>

namespace buttonhole
{

/// What the network for what stands out (IS-Net: X. Qin et al., "Highly accurate dichotomous image
/// segmentation", ECCV 2022) says of what a box holds; with room round it, it is taken in by what
/// lies beside the thing. It is the answer where it is sure, fills the box and is of one thing;
/// elsewhere it is trusted as far as it is so.
/// @param box level-0 px inside the photo; the whole photo: what stands out in all of it
/// Neighbours that the box cuts are left out, where something lies within it.
/// @param under px of the photo: parts that hold one of them stay, cut or not
/// Errors: NotFound, Damaged (models); Cancelled.
Result<RegionPrior> findSalient(const PhotoLevels &levels, const Rect &box, const Run &run = {},
                                const std::vector<PhotoPoint> &under = {});

/// The boxes of what an answer holds, in its pixels, the largest first; what is small beside that
/// is left out.
std::vector<cv::Rect> partsOfAnswer(const RegionPrior &answer);

/// A place as a pixel of values over an area; the nearest, where it lies beside it.
cv::Point pixelOf(const PhotoPoint &at, const Rect &area, const cv::Size &size);

/// What it says of an area, as a draft. @return kSalientDraftSide squared values 0..1 over it
/// Errors: as findSalient().
Result<cv::Mat1f> draftSalient(const PhotoLevels &levels, const Rect &area, const Run &run);

} // namespace buttonhole
