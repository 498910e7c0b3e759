#include "matting/edge_labels.h"

#include <opencv2/imgproc.hpp>

#include <array>

namespace buttonhole
{

namespace
{

constexpr int kRounds = 8;
constexpr int kThinPx = 2;    ///< radius of the disc that what is thin does not hold
constexpr int kWindow = 33;   ///< px, the side of the squares in which thin places are counted
constexpr float kThin = 0.2F; ///< of the edge's px there: then it is thin

/// Neighbours that come after a pixel in the order of rows; the others are theirs.
const std::array<cv::Point, 4> kAfter{{{1, 0}, {0, 1}, {1, 1}, {-1, 1}}};

/// What neighbours pay for being on different sides, one raster for each of kAfter.
using Ties = std::array<cv::Mat1f, 4>;

Ties tiesOf(const cv::Mat3f &lab, const cv::Mat1b &open)
{
    constexpr float kTie = 4;          // logits, between neighbours of one colour
    constexpr float kLeast = 0.02F;    // of that, between any
    constexpr float kContrast = 5e-4F; // squared OKLab: what an edge differs by
    const cv::Rect all({}, lab.size());
    Ties ties;
    for (size_t k = 0; k < kAfter.size(); ++k) {
        ties[k] = cv::Mat1f(lab.size(), 0.0F);
        const float tie = kTie / (k > 1 ? 1.41421356F : 1.0F);
        for (int y = 0; y < lab.rows; ++y)
            for (int x = 0; x < lab.cols; ++x) {
                const cv::Point q = cv::Point(x, y) + kAfter[k];
                if (!all.contains(q) || (open(y, x) == 0 && open(q) == 0))
                    continue;
                const cv::Vec3f unlike = lab(y, x) - lab(q);
                ties[k](y, x) =
                    tie * std::exp(-unlike.dot(unlike) / (2 * kContrast)) + kLeast * kTie;
            }
    }
    return ties;
}

/// What a pixel's neighbours say, in logits.
float told(const cv::Mat1f &sides, const Ties &ties, const cv::Point &at)
{
    const cv::Rect all({}, sides.size());
    float sum = 0;
    for (size_t k = 0; k < kAfter.size(); ++k) {
        const cv::Point after = at + kAfter[k];
        const cv::Point before = at - kAfter[k];
        if (all.contains(after))
            sum += ties[k](at) * sides(after);
        if (all.contains(before))
            sum += ties[k](before) * sides(before);
    }
    return sum;
}

/// -1 outside to 1 inside.
cv::Mat1f settled(const cv::Mat3f &lab, const cv::Mat1f &evidence, const cv::Mat1b &open,
                  const cv::Mat1f &depth)
{
    constexpr float kFirst = 0.15F; // share of the ties before the first round
    const Ties ties = tiesOf(lab, open);
    std::vector<cv::Point> nodes;
    cv::findNonZero(open, nodes);
    cv::Mat1f sides = cv::Mat1f(depth > 0) * (2.0F / 255) - 1;
    for (const cv::Point &at : nodes)
        sides(at) = std::tanh(evidence(at) / 2);
    cv::Mat1f next = sides.clone();
    for (int round = 1; round <= kRounds; ++round) {
        const float share = kFirst + (1 - kFirst) * float(round) / kRounds;
        for (const cv::Point &at : nodes)
            next(at) = (sides(at) + std::tanh((evidence(at) + share * told(sides, ties, at)) / 2)) /
                       2; // half a step: all move at once
        std::swap(sides, next);
    }
    return sides;
}

/// 255 where much of what lies round about is too thin to hold a disc.
cv::Mat1b thinIn(const cv::Mat1b &inside)
{
    constexpr int kSide = 2 * kThinPx + 1;
    const cv::Mat disc = cv::getStructuringElement(cv::MORPH_ELLIPSE, {kSide, kSide});
    cv::Mat1b opened;
    cv::Mat1b closed;
    cv::Mat1b within;
    cv::morphologyEx(inside, opened, cv::MORPH_OPEN, disc);
    cv::morphologyEx(inside, closed, cv::MORPH_CLOSE, disc);
    cv::erode(inside, within, {});
    cv::Mat1f thin = cv::Mat1f((opened != inside) | (closed != inside)) / 255;
    cv::Mat1f edge = cv::Mat1f(inside & ~within) / 255;
    cv::boxFilter(thin, thin, CV_32F, {kWindow, kWindow});
    cv::boxFilter(edge, edge, CV_32F, {kWindow, kWindow});
    return thin > kThin * edge;
}

} // namespace

int edgeLabelsReach()
{
    return std::max(kRounds, kWindow / 2 + 2 * kThinPx) + 1;
}

EdgeLabels edgeLabels(const cv::Mat3f &lab, const cv::Mat1f &soft, const cv::Mat1f &evidence,
                      const cv::Mat1b &open, const cv::Mat1f &depth)
{
    EdgeLabels out{soft >= 0.5F, {}};
    out.anew = ~thinIn(out.inside);
    cv::Mat1b(settled(lab, evidence, open, depth) > 0).copyTo(out.inside, out.anew);
    return out;
}

} // namespace buttonhole
