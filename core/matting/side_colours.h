#pragma once

#include "segment/colour_bins.h"

#include <opencv2/core.hpp>

#include <vector>

namespace buttonhole
{

/// Which side of a mask's edge colours near by are of: of what lies close to the edge, how much of
/// a colour is inside. Counted in blocks that stand still in the photo, so that parts come out as
/// the whole does; between their middles counts are mixed.
class SideColours
{
public:
    /// How far around a pixel is looked, px.
    static int reach(float nearEdgePx);

    /// @param lab        OKLab; must outlive this
    /// @param depth      px into the mask, negative outside; of the same size
    /// @param origin     of both in the photo
    /// @param nearEdgePx what lies deeper says nothing of the edge; from half of that on the mask
    /// is
    ///                   taken to be right
    SideColours(const cv::Mat3f &lab, const cv::Mat1f &depth, cv::Point origin, float nearEdgePx);
    /// The share of evidence, 0..1, that a pixel is of the mask's inside; 0.5: it says nothing.
    float insideShare(int x, int y) const;

private:
    struct Block {
        ColourBins inside;
        ColourBins outside;
    };

    const cv::Mat3f &m_lab;
    cv::Point m_first; ///< of the first pixel in the first block
    int m_columns = 0;
    std::vector<Block> m_blocks;
};

} // namespace buttonhole
