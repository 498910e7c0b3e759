#pragma once

#include "matting/side_colours.h"

#include <optional>

namespace buttonhole
{

/// A square that the edge net looks at.
struct EdgeView {
    static constexpr int kTile = 64;                  ///< px, the side of what it answers for
    static constexpr int kMargin = 16;                ///< px that it sees round that
    static constexpr int kSide = kTile + 2 * kMargin; ///< px, a multiple of 8

    cv::Mat3f lab;       ///< OKLab, kSide squared
    cv::Mat1f depth;     ///< px into the mask, negative outside
    SideShares shares;   ///< what colours near by say
    float wrongByPx = 0; ///< so far the mask's edge may be from the true one, 2..12
};

/// Coverage of a view, 0..1, kSide squared, by the edge net (models/README.md): a small U-Net (O.
/// Ronneberger, P. Fischer, T. Brox, "U-Net: convolutional networks for biomedical image
/// segmentation", 2015) trained on made-up scenes with exact mattes. Nothing where the net cannot
/// be had: see softEdgesReady(). Thread-safe.
std::optional<cv::Mat1f> coverageOf(const EdgeView &view);

} // namespace buttonhole
