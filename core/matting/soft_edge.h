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

/// How far around a pixel softenEdge() looks, px, where the tables of blocks are given.
int softEdgeMargin(const EdgeBand &band);
/// So far the mask's edge may be from the true one, px.
float wrongByPx(const EdgeBand &band);

/// Fractional coverage in a band round the mask's edge: how much of each pixel's colour is the
/// subject's, judged by colours just inside and just outside; as crisp or as soft as the photo is
/// there. What is thinner than the band is judged by its middle. Where the two cannot be told apart
/// the mask stays as it is.
/// @param lab  OKLab; @param mask 0..1, of the same size; the new coverage is returned
/// Method: pairs of samples along rays (E. Gastal, M. Oliveira, "Shared sampling for real-time
/// alpha matting", 2010), smoothed by the colour line model that closed-form matting rests on (A.
/// Levin, D. Lischinski, Y. Weiss, "A closed-form solution to natural image matting", 2008) in
/// windows, as guided filters do.
cv::Mat1f softenEdge(const cv::Mat3f &lab, const cv::Mat1f &mask, const SoftEdge &edge);

} // namespace buttonhole
