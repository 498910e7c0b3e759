#include "matting/soft_edge.h"

#include "matting/band_matting.h"
#include "matting/edge_labels.h"

#include <opencv2/imgproc.hpp>

namespace buttonhole
{

namespace
{

constexpr float kSecond = 2.0F / 3.0F; ///< the second band's share of the first

/// The band in which an edge that is in the right place is made crisp where the photo is.
constexpr EdgeBand kCrispBand{.isFound = true, .mostFoundPx = 5};

/// Says whether a soft edge is looked at again to make it crisp. By sharpness it is already.
bool isCrispened(const EdgeBand &band)
{
    constexpr float kLeastPx = 4; // what is narrower hardly holds a rim
    return !band.isFound && band.px > kLeastPx;
}

/// How far around a pixel the second look sees, px.
int seenAgain(const EdgeBand &band)
{
    return isCrispened(band) ? BandMatting::reach(kCrispBand, 1) + edgeLabelsReach()
                             : BandMatting::reach(band, kSecond);
}

/// What lies in a part only.
SoftEdge cropped(SoftEdge edge, const cv::Rect &part)
{
    edge.origin += part.tl();
    if (!edge.wanted.empty())
        edge.wanted -= part.tl();
    if (!edge.wide.empty())
        edge.wide = edge.wide(part);
    return edge;
}

/// A part of what is wanted and looked at.
SoftEdge widened(SoftEdge edge, int by, const cv::Size &size)
{
    if (!edge.wanted.empty())
        edge.wanted = grown(edge.wanted, by, size);
    return edge;
}

/// Says whether the mask crosses a half where that matters to what is wanted.
bool hasEdge(const cv::Mat1f &mask, const SoftEdge &edge)
{
    const float reach = edge.band.reach() * (1 + kSecond);
    const cv::Rect near = grown(edge.wanted, int(std::ceil(reach)) + 2, mask.size());
    double least = 0;
    double most = 0;
    cv::minMaxLoc(mask(near), &least, &most);
    return least < 0.5 && most >= 0.5;
}

/// Near an edge that is sharp in the photo coverage is as sharp: a dark rim is no mixture of the
/// subject with something dark. What is marked as wide stays.
cv::Mat1f crispened(const cv::Mat3f &lab, const cv::Mat1f &soft, const EdgeLabels &labels,
                    const SoftEdge &edge)
{
    constexpr float kSharpPx = 3;     // see foundWidth()
    constexpr float kNearPx = 5;      // and hardly beyond twice that
    constexpr float kNearAnewPx = 10; // what is cut anew may be that far from where it was
    const SoftEdge found{kCrispBand, {}, edge.origin, edge.wanted};
    const cv::Mat1f hard = cv::Mat1f(labels.inside) / 255;
    const BandMatting matting(lab, hard, found, 1, MaskIs::Rough, Sides::Known);
    const cv::Mat1f crisp = matting.solve();
    cv::Mat1f out = soft.clone();
    const cv::Rect wanted = grown(edge.wanted, 0, out.size());
    for (int y = wanted.y; y < wanted.br().y; ++y)
        for (int x = wanted.x; x < wanted.br().x; ++x) {
            if (!edge.wide.empty() && edge.wide(y, x))
                continue;
            const float away = std::abs(matting.depth()(y, x));
            const float nearPx = labels.anew(y, x) ? kNearAnewPx : kNearPx;
            const float near = std::clamp(2 - away / nearPx, 0.0F, 1.0F);
            const float blurred = kCrispBand.mostFoundPx - matting.width()(y, x);
            const float sharp =
                std::clamp(blurred / (kCrispBand.mostFoundPx - kSharpPx), 0.0F, 1.0F);
            out(y, x) += near * sharp * (crisp(y, x) - out(y, x));
        }
    return out;
}

} // namespace

int softEdgeMargin(const EdgeBand &band)
{
    return BandMatting::reach(band, 1) + seenAgain(band);
}

float wrongByPx(const EdgeBand &band)
{
    constexpr float kLeastPx = 2;
    return band.isFound ? kLeastPx : std::max(kLeastPx, band.px);
}

cv::Mat1f softenEdge(const cv::Mat3f &lab, const cv::Mat1f &mask, const SoftEdge &edge)
{
    // The edge is better known after once: what is sure is nearer to it.
    const SoftEdge first = widened(edge, seenAgain(edge.band), lab.size());
    if (!hasEdge(mask, first))
        return mask;
    // The width by sharpness is for masks that are right.
    const MaskIs maskIs = edge.band.isFound ? MaskIs::Right : MaskIs::Rough;
    const BandMatting look(lab, mask, first, 1, maskIs, Sides::Ask);
    cv::Mat1f once = look.solve();
    const cv::Rect seen = grown(first.wanted, 0, lab.size());
    const SoftEdge again = cropped(edge, seen);
    if (isCrispened(edge.band)) {
        const cv::Mat1f depth = look.depth()(seen);
        const EdgeLabels labels = edgeLabels(lab(seen), once(seen), look.evidence()(seen),
                                             cv::abs(depth) <= edge.band.px, depth);
        crispened(lab(seen), once(seen), labels, again).copyTo(once(seen));
    } else {
        BandMatting(lab(seen), once(seen), again, kSecond, maskIs, Sides::Known)
            .solve()
            .copyTo(once(seen));
    }
    return once;
}

} // namespace buttonhole
