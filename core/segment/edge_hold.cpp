#include "segment/edge_hold.h"

#include "io/lab_run.h"
#include "raster/parallel_tiles.h"
#include "segment/frame.h"
#include "segment/geodesic.h"
#include "segment/growth.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kFrameEdge = 72; ///< px: the tip is looked at this small
constexpr float kPerPx = 0.001F;
constexpr float kMostTexture = 0.01F; ///< OKLab between neighbours: more is an edge
constexpr float kStandsOut = 0.3F;    ///< below this score there is no edge under the tip
constexpr float kFree = 0.2F;         ///< OKLab, what may be crossed then
constexpr float kMost = 0.15F;        ///< and at most where there is one
constexpr float kSoftShare = 0.25F;   ///< of the cost: over it the share falls from 1 to 0

/// 0..1 for each pixel of the frame.
cv::Mat1f shareInFrame(const Frame &frame, const PhotoPoint &centre, float radiusPx,
                       float strictness)
{
    const cv::Point2d middle = frame.toFrame(centre);
    const cv::Point at(std::clamp(int(middle.x), 0, frame.lab.cols - 1),
                       std::clamp(int(middle.y), 0, frame.lab.rows - 1));
    const int core = std::max(0, int(0.12 * radiusPx * frame.scale));
    cv::Mat1f cost(frame.lab.size(), 1e6F);
    cv::circle(cost, at, core, 0.0F, cv::FILLED);
    cv::Mat1b middleOfTip = cv::Mat1b::zeros(cost.size());
    const int radius = std::max(2, core);
    cv::rectangle(middleOfTip, {at.x - radius, at.y - radius}, {at.x + radius, at.y + radius}, 255,
                  cv::FILLED);
    const float texture = textureUnder(frame.lab, middleOfTip, kMostTexture);
    cost = GeodesicSteps(frame.lab, texture, kPerPx).distance(cost);
    const Rest rest = restingCost(frame.lab, cost, {}, {0.02F, kMost, double(cost.total())});
    const float limit = rest.standsOut < kStandsOut
                            ? std::max(rest.cost, kFree * (1.5F - strictness))
                            : rest.cost * std::exp2(0.5F - strictness);
    cv::Mat1f share(cost.size());
    for (int y = 0; y < cost.rows; ++y)
        for (int x = 0; x < cost.cols; ++x)
            share(y, x) = std::clamp((limit * (1 + kSoftShare) - cost(y, x)) / (kSoftShare * limit),
                                     0.0F, 1.0F);
    return share;
}

/// One pixel of the photo between four of the frame: as those that it looks like.
float shareLike(const cv::Vec3f &lab, const Frame &frame, const cv::Mat1f &share, int x0, int y0)
{
    constexpr float kAlike = 0.03F; // OKLab
    float sum = 0;
    float weights = 1e-9F;
    for (int y = y0; y <= std::min(y0 + 1, share.rows - 1); ++y)
        for (int x = x0; x <= std::min(x0 + 1, share.cols - 1); ++x) {
            const cv::Vec3f d = lab - frame.lab(y, x);
            const float unlike = d.dot(d) / (kAlike * kAlike);
            const float weight = 1 / (1 + unlike * unlike);
            sum += weight * share(y, x);
            weights += weight;
        }
    return sum / weights;
}

} // namespace

HeldTip holdToEdges(const PhotoLevels &levels, const PhotoPoint &centre, float radiusPx,
                    float strictness)
{
    const float reach = kHoldReach * radiusPx + 2;
    HeldTip tip{centre,
                intersected(levels.photo().rect(),
                            {int(std::floor(centre.x - reach)), int(std::floor(centre.y - reach)),
                             int(std::ceil(centre.x + reach)), int(std::ceil(centre.y + reach))}),
                {}};
    if (tip.area.isEmpty())
        return tip;
    const Frame frame = readFrame(levels, tip.area, kFrameEdge);
    const cv::Mat1f share = shareInFrame(frame, centre, radiusPx, strictness);
    tip.share = Image<uint8_t>(tip.area.width(), tip.area.height(), 1);
    constexpr int kRows = 32;
    parallelRows(tip.area.height(), kRows, [&](int from, int to) {
        LabRun run;
        for (int y = from; y < to; ++y) {
            uint8_t *out = tip.share.row(y);
            const int fy = std::clamp(int((y + 0.5) * frame.scale - 0.5), 0, share.rows - 1);
            const int fyNext = std::min(fy + 1, share.rows - 1);
            int read = -1; // the run that is in hand
            for (int x = 0; x < tip.area.width(); ++x) {
                const int fx = std::clamp(int((x + 0.5) * frame.scale - 0.5), 0, share.cols - 1);
                const int fxNext = std::min(fx + 1, share.cols - 1);
                const float s = share(fy, fx);
                if (s == share(fy, fxNext) && s == share(fyNext, fx) &&
                    s == share(fyNext, fxNext)) {
                    out[x] = uint8_t(s * 255 + 0.5F);
                    continue;
                }
                if (x / kRowRun != read) {
                    read = x / kRowRun;
                    const int start = read * kRowRun;
                    run.read(levels, 0, tip.area.x0 + start, tip.area.y0 + y,
                             std::min(kRowRun, tip.area.width() - start));
                }
                const int i = x % kRowRun;
                out[x] = uint8_t(
                    shareLike({run.L[i], run.a[i], run.b[i]}, frame, share, fx, fy) * 255 + 0.5F);
            }
        }
    });
    return tip;
}

} // namespace buttonhole
