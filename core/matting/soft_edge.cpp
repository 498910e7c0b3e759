#include "matting/soft_edge.h"

#include "matting/edge_net.h"
#include "matting/edge_width.h"

#include <opencv2/imgproc.hpp>

namespace buttonhole
{

namespace
{

constexpr int kTile = EdgeView::kTile;
constexpr int kSide = EdgeView::kSide;
constexpr float kMostWrongPx = 12; ///< that the net is made for
constexpr float kAgainPx = 2.5F;   ///< so far an edge that was found in half the size may be wrong
constexpr int kDepthPx = 20;       ///< deeper than the net is told

/// How often the picture must be halved so that the band is not too wide for the net.
int halvingsFor(float wrongByPx)
{
    int out = 0;
    while (wrongByPx > kMostWrongPx) {
        wrongByPx /= 2;
        ++out;
    }
    return out;
}

/// A rectangle of a raster; beyond its edge, as that is.
cv::Mat seen(const cv::Mat &raster, const cv::Rect &rect)
{
    const cv::Rect inside = rect & cv::Rect({}, raster.size());
    if (inside == rect)
        return raster(rect);
    cv::Mat out;
    cv::copyMakeBorder(raster(inside), out, inside.y - rect.y, rect.br().y - inside.br().y,
                       inside.x - rect.x, rect.br().x - inside.br().x, cv::BORDER_REPLICATE);
    return out;
}

/// A square round the middle of another.
cv::Rect around(const cv::Rect &square, int side)
{
    const int by = (side - square.width) / 2;
    return {square.x - by, square.y - by, side, side};
}

cv::Mat middleOf(const cv::Mat &square, int side)
{
    return square(around(cv::Rect({}, square.size()), side));
}

/// 1 in the band, falling to 0 within a pixel of its end.
float shareOfBand(float depth, float band)
{
    return std::clamp(band + 0.5F - std::abs(depth), 0.0F, 1.0F);
}

/// What the net says of a square.
/// @param place of the square in the raster that the colours are of
std::optional<cv::Mat1f> lookAt(const cv::Mat3f &lab, const cv::Mat1f &depth, float wrongBy,
                                const cv::Rect &place, SideColours &sides)
{
    return coverageOf({lab, depth, sides.insideShares(lab, place), wrongBy});
}

class TileSoftener
{
public:
    TileSoftener(const cv::Mat3f &lab, const cv::Mat1f &mask, const SoftEdge &edge)
        : m_lab(lab), m_mask(mask), m_edge(edge), m_depth(depthIn(mask)),
          m_halvings(halvingsFor(wrongByPx(edge.band))),
          m_sides(edge.sides ? edge.sides
                             : tablesOf(lab, m_depth, edge.origin, wrongByPx(edge.band)))
    {
        if (edge.band.isFound)
            m_width = cv::min(foundWidth(lab, cv::Mat1f(cv::abs(m_depth))), EdgeBand::kMostFoundPx);
    }

    /// @param tile of the raster. @return its coverage; nothing: the mask's
    std::optional<cv::Mat1f> soften(const cv::Rect &tile);

private:
    std::optional<cv::Mat1f> lookOnce(const cv::Rect &square, float wrongBy);
    std::optional<cv::Mat1f> lookMarked(const cv::Rect &square, float usual);
    std::optional<cv::Mat1f> lookReduced(const cv::Rect &square) const;
    bool isMarked(const cv::Rect &tile) const;
    float reachAt(const cv::Point &at) const;
    float shareAt(const cv::Point &at) const;
    bool isOpen(const cv::Rect &tile) const;

    const cv::Mat3f &m_lab;
    const cv::Mat1f &m_mask;
    const SoftEdge &m_edge;
    const cv::Mat1f m_depth;
    cv::Mat1f m_width; ///< px to either side that the edge is blurred; empty: it was given
    const int m_halvings;
    SideColours m_sides;
};

/// Px to either side that are open.
float TileSoftener::reachAt(const cv::Point &at) const
{
    const EdgeBand &band = m_edge.band;
    const bool isWide = !m_edge.wide.empty() && m_edge.wide(at) != 0;
    const float usual = band.isFound ? m_width(at) : EdgeBand::kOpen * band.px;
    return isWide ? std::max(usual, EdgeBand::kWider * band.px) : usual;
}

/// 0..1: how far the net is followed. In the outer half of a band that was given less and less; a
/// mask that is right says as much of an edge that is sharp.
float TileSoftener::shareAt(const cv::Point &at) const
{
    constexpr float kSharp = 0.5F;
    constexpr float kSharpPx = 3.5F; // px to either side; from twice that on it is the net alone
    const float reach = reachAt(at);
    if (m_edge.band.isFound)
        return shareOfBand(m_depth(at), reach) *
               std::clamp(kSharp * m_width(at) / kSharpPx, kSharp, 1.0F);
    return std::clamp((reach - std::abs(m_depth(at))) / (reach / 2), 0.0F, 1.0F);
}

bool TileSoftener::isOpen(const cv::Rect &tile) const
{
    for (int y = tile.y; y < tile.br().y; ++y)
        for (int x = tile.x; x < tile.br().x; ++x)
            if (shareAt({x, y}) > 0)
                return true;
    return false;
}

/// Says whether some of it is marked as wide.
bool TileSoftener::isMarked(const cv::Rect &tile) const
{
    return !m_edge.wide.empty() && cv::countNonZero(m_edge.wide(tile)) > 0;
}

/// At full size.
std::optional<cv::Mat1f> TileSoftener::lookOnce(const cv::Rect &square, float wrongBy)
{
    return lookAt(seen(m_lab, square), seen(m_depth, square), wrongBy, square + m_edge.origin,
                  m_sides);
}

/// What is marked as wide may be wrong by more; what is not must not change with it.
std::optional<cv::Mat1f> TileSoftener::lookMarked(const cv::Rect &square, float usual)
{
    auto out = lookOnce(square, usual);
    const auto wide = lookOnce(square, std::min(EdgeBand::kWider * usual, kMostWrongPx));
    if (out && wide)
        wide->copyTo(*out, seen(m_edge.wide, square));
    return out;
}

/// From so many halvings up to full size.
std::optional<cv::Mat1f> TileSoftener::lookReduced(const cv::Rect &square) const
{
    std::optional<cv::Mat1f> found;
    for (int step = m_halvings; step >= 0; --step) {
        const int times = 1 << step;
        const int room = kSide + 2 * kDepthPx;
        cv::Mat3f lab;
        cv::resize(seen(m_lab, around(square, kSide * times)), lab, {kSide, kSide}, 0, 0,
                   cv::INTER_AREA);
        cv::Mat1f mask;
        if (found)
            cv::resize(middleOf(*found, kSide / 2), mask, lab.size(), 0, 0, cv::INTER_LINEAR);
        else
            cv::resize(seen(m_mask, around(square, room * times)), mask, {room, room}, 0, 0,
                       cv::INTER_AREA);
        const cv::Mat1f depth = middleOf(depthIn(mask), kSide).clone();
        const float wrongBy = found ? kAgainPx : wrongByPx(m_edge.band) / float(times);
        SideColours sides(tablesOf(lab, depth, {}, wrongBy));
        const auto answer = lookAt(lab, depth, wrongBy, {{}, lab.size()}, sides);
        if (!answer)
            return std::nullopt;
        if (!found) {
            found = answer;
            continue;
        }
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const float share = shareOfBand(depth(y, x), 2 * kAgainPx);
                mask(y, x) += share * ((*answer)(y, x) - mask(y, x));
            }
        found = mask;
    }
    return found;
}

std::optional<cv::Mat1f> TileSoftener::soften(const cv::Rect &tile)
{
    const cv::Rect inside = tile & cv::Rect({}, m_mask.size());
    if (!isOpen(inside))
        return std::nullopt;
    const cv::Rect square = around(tile, kSide);
    const float usual = wrongByPx(m_edge.band);
    const auto answer = m_halvings > 0     ? lookReduced(square)
                        : isMarked(inside) ? lookMarked(square, usual)
                                           : lookOnce(square, usual);
    if (!answer)
        return std::nullopt;
    cv::Mat1f out = seen(m_mask, tile).clone();
    const cv::Mat1f own = middleOf(*answer, kTile);
    for (int y = 0; y < kTile; ++y)
        for (int x = 0; x < kTile; ++x) {
            const cv::Point at = cv::Point(x, y) + tile.tl();
            if (!cv::Rect({}, m_mask.size()).contains(at))
                continue;
            const float share = shareAt(at);
            out(y, x) += share * (own(y, x) - out(y, x));
        }
    return out;
}

} // namespace

int softEdgeMargin(const EdgeBand &band)
{
    const int times = 1 << halvingsFor(wrongByPx(band));
    return kTile + (kSide - kTile) / 2 * times + kTile / 2 * (times - 1) + kDepthPx * times;
}

float wrongByPx(const EdgeBand &band)
{
    constexpr float kLeastPx = 2;
    return band.isFound ? kLeastPx : std::max(kLeastPx, band.px);
}

cv::Mat1f softenEdge(const cv::Mat3f &lab, const cv::Mat1f &mask, const SoftEdge &edge)
{
    const cv::Rect all({}, mask.size());
    const cv::Rect wanted = edge.wanted.empty() ? all : edge.wanted & all;
    TileSoftener softener(lab, mask, edge);
    cv::Mat1f out = mask.clone();
    // Tiles stand still in the photo.
    static_assert((kTile & (kTile - 1)) == 0);
    const auto start = [](int px, int origin) { return ((px + origin) & -kTile) - origin; };
    const cv::Point first(start(wanted.x, edge.origin.x), start(wanted.y, edge.origin.y));
    for (int y = first.y; y < wanted.br().y; y += kTile)
        for (int x = first.x; x < wanted.br().x; x += kTile) {
            const cv::Rect tile(x, y, kTile, kTile);
            const cv::Rect own = tile & wanted;
            if (const auto soft = softener.soften(tile))
                (*soft)(own - tile.tl()).copyTo(out(own));
        }
    return out;
}

} // namespace buttonhole
