#pragma once

#include "matting/edge_band.h"
#include "matting/side_colours.h"

#include <opencv2/core.hpp>

namespace buttonhole
{

/// How a mask's edge is made soft. For .cpp files of the core only: OpenCV stays out of what
/// others include.
struct SoftEdge {
    EdgeBand band;    ///< in px of `lab`
    cv::Mat1b wide;   ///< 255 where it is wide; empty: nowhere
    cv::Point origin; ///< of `lab` in the photo: parts come out as the whole does
    cv::Rect wanted;  ///< only this part of the answer is made, the rest only looked at; empty: all
    SideTableSource sides = {}; ///< of the photo's blocks, see wrongByPx(); empty: `lab` is all
};

/// How far around a part softenEdge() looks, px, where the tables of blocks are given.
int softEdgeMargin(const EdgeBand &band);
/// So far the mask's edge may be from the true one, px.
float wrongByPx(const EdgeBand &band);

/// Fractional coverage in a band round the mask's edge, as the edge net sees it (edge_net.h):
/// colours just inside and just outside, and those that lie near the edge on either side, say
/// where the edge is, and how soft. A band wider than the net is made for is looked at reduced
/// first, and then again and again at twice the size, near where the edge was found.
/// @param lab  OKLab; @param mask 0..1, of the same size; the new coverage is returned, or the
///             mask where the net cannot be had
cv::Mat1f softenEdge(const cv::Mat3f &lab, const cv::Mat1f &mask, const SoftEdge &edge);

} // namespace buttonhole
