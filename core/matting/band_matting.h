#pragma once

#include "matting/soft_edge.h"

namespace buttonhole
{

/// Where a mask is right to a pixel already, colour must tell more to change it.
enum class MaskIs { Rough, Right };
/// Whether colours near by say which side of the edge a pixel is on. Not in the second look: the
/// mask that it starts from holds what they said.
enum class Sides { Ask, Known };

/// A part of a raster with so much round it; all of it where the part is empty.
cv::Rect grown(const cv::Rect &part, int by, const cv::Size &size);

/// One look at the band round a mask's edge. See softenEdge().
class BandMatting
{
public:
    /// How far around a pixel it looks, px.
    static int reach(const EdgeBand &band, float share);

    /// @param share of the band that is open
    BandMatting(const cv::Mat3f &lab, const cv::Mat1f &mask, const SoftEdge &edge, float share,
                MaskIs maskIs, Sides sides);

    /// Px into the mask, negative outside.
    const cv::Mat1f &depth() const { return m_depth; }
    /// Px to either side that the band was found to have; empty: it was given.
    const cv::Mat1f &width() const { return m_width; }
    /// Logits that pixels in the band are inside: of their colours, and of how deep they are in the
    /// mask. 0 elsewhere, and everywhere where sides are not asked.
    cv::Mat1f evidence() const;
    /// Coverage, 0..1.
    cv::Mat1f solve() const;

private:
    /// A pixel's place in the band and what its colour says.
    struct Estimate {
        float alpha = 0;
        float sure = 0; ///< 0..1
    };
    /// What each window of m_part says of coverage: a linear function of colour, fitted to what is
    /// sure.
    struct Lines {
        cv::Mat4f line; ///< factors of L, a, b, and what is added
        cv::Mat1f told; ///< 0..1: how much of coverage colour explains
        cv::Mat1b near; ///< 255 where there is a line
    };

    void findSamples();
    void askSides(const SideTableSource &given);
    cv::Mat1b coresOf(int reach) const;
    Estimate estimate(int x, int y) const;
    Estimate withSides(Estimate own, const cv::Point &at) const;
    int side() const;
    cv::Mat box(const cv::Mat &in) const;
    Lines fitted(const cv::Mat1f &alpha, const cv::Mat1f &weight) const;
    float trustIn(float told) const;
    cv::Mat1f smoothed(const cv::Mat1f &alpha, const cv::Mat1f &weight) const;

    const cv::Mat3f &m_lab;
    const cv::Mat1f &m_mask;
    const MaskIs m_maskIs;
    const cv::Point m_origin;
    const EdgeBand m_usual; ///< where nothing is marked
    const int m_usualReach; ///< px, where nothing is marked
    const int m_wideReach;
    const cv::Mat1b m_wide;
    cv::Rect m_part; ///< where estimates are made: round what is open in what is wanted
    cv::Mat1f m_depth;
    cv::Mat1f m_width;
    cv::Mat1b m_open;        ///< 255 in the band
    cv::Rect m_seen;         ///< m_part, and as far as rays from there go
    cv::Mat1f m_toSample;    ///< px to the next sample's place, over m_seen
    cv::Mat3f m_calm;        ///< colours of samples, over m_seen
    cv::Mat1f m_insideShare; ///< what colours near by say, over m_part; empty: not asked
};

} // namespace buttonhole
