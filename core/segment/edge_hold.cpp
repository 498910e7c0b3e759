#include "segment/edge_hold.h"

#include "io/lab_run.h"
#include "raster/parallel_tiles.h"
#include "segment/cut.h"
#include "segment/frame.h"
#include "segment/geodesic.h"
#include "segment/growth.h"
#include "segment/parts.h"

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

/// What grew from the trail, over one look at the tip.
struct Grown {
    cv::Mat1f cost; ///< 0 on the trail
    float limit = 0;
    bool standsOut = false;
};

cv::Mat1f trailStarts(const Frame &frame, const std::vector<PhotoPoint> &trail, float radiusPx)
{
    constexpr float kBack = 2; // radii
    const auto inFrame = [&](const PhotoPoint &p) {
        const cv::Point2d at = frame.toFrame(p);
        return cv::Point(int(std::floor(at.x)), int(std::floor(at.y)));
    };
    const int core = std::max(0, int(0.12 * radiusPx * frame.scale));
    const cv::Point middle = inFrame(trail.back());
    cv::Mat1f starts(frame.lab.size(), 1e6F);
    cv::circle(starts,
               {std::clamp(middle.x, 0, starts.cols - 1), std::clamp(middle.y, 0, starts.rows - 1)},
               core, 0.0F, cv::FILLED);
    for (size_t i = trail.size() - 1; i-- > 0;) {
        if (distance(trail[i], trail.back()) > kBack * radiusPx)
            break;
        cv::line(starts, inFrame(trail[i + 1]), inFrame(trail[i]), 0.0F, 2 * core + 1);
    }
    return starts;
}

Grown grownFrom(const Frame &frame, const cv::Mat1f &starts, float strictness)
{
    const float texture = textureUnder(frame.lab, starts <= 0, kMostTexture);
    Grown out;
    out.cost = GeodesicSteps(frame.lab, texture, kPerPx).distance(starts);
    const Rest rest =
        restingCost(frame.lab, out.cost, {}, {0.02F, kMost, double(out.cost.total())});
    out.standsOut = rest.standsOut >= kStandsOut;
    out.limit = out.standsOut ? rest.cost * std::exp2(0.5F - strictness)
                              : std::max(rest.cost, kFree * (1.5F - strictness));
    return out;
}

/// 255 for what belongs: cut as a graph by what grew and by colours, as far as it hangs together
/// with the trail.
/// @param bias more: more belongs
cv::Mat1b cutFrom(const Frame &frame, const Grown &grown, const cv::Mat1i &bins,
                  const HeldColours &colours, float bias)
{
    constexpr float kTie = 2;
    constexpr float kMostNear = 2;
    constexpr float kLeastColour = -3;
    constexpr float kAbout = 1.6F; // of the limit: nearness says neither there
    const cv::Mat1b open = grown.cost > 0;
    cv::Mat1b labels = ~open;
    cv::Mat1f evidence(open.size());
    for (int y = 0; y < open.rows; ++y)
        for (int x = 0; x < open.cols; ++x) {
            const float near = 4 * (kAbout - grown.cost(y, x) / grown.limit);
            evidence(y, x) = grown.standsOut ? std::clamp(near, -kMostNear, kMostNear) : 0;
            evidence(y, x) += std::max(colours.logit(bins(y, x)), kLeastColour) + bias;
        }
    cutGraph(frame.lab, evidence, labels, open, kTie);
    return partsTouching(labels, ~open, 4);
}

/// 0..1 for each pixel of the frame.
cv::Mat1f shareInFrame(const Frame &frame, HeldStroke &stroke, float radiusPx, float strictness)
{
    const cv::Mat1f starts = trailStarts(frame, stroke.trail, radiusPx);
    cv::Mat1i bins(starts.size());
    stroke.colours.fade();
    for (int y = 0; y < bins.rows; ++y)
        for (int x = 0; x < bins.cols; ++x) {
            const cv::Vec3f &c = frame.lab(y, x);
            bins(y, x) = ColourBins::binOf(c[0], c[1], c[2]);
            stroke.colours.see(bins(y, x));
            if (starts(y, x) <= 0)
                stroke.colours.pass(bins(y, x));
        }
    constexpr float kStrict = 2;
    const Grown grown = grownFrom(frame, starts, strictness);
    return cv::Mat1f(cutFrom(frame, grown, bins, stroke.colours, kStrict * (0.5F - strictness))) /
           255;
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

HeldTip holdToEdges(const PhotoLevels &levels, HeldStroke &stroke, float radiusPx, float strictness)
{
    const PhotoPoint &centre = stroke.trail.back();
    const float reach = kHoldReach * radiusPx + 2;
    HeldTip tip{centre,
                intersected(levels.photo().rect(),
                            {int(std::floor(centre.x - reach)), int(std::floor(centre.y - reach)),
                             int(std::ceil(centre.x + reach)), int(std::ceil(centre.y + reach))}),
                {}};
    if (tip.area.isEmpty())
        return tip;
    const Frame frame = readFrame(levels, tip.area, kFrameEdge);
    const cv::Mat1f share = shareInFrame(frame, stroke, radiusPx, strictness);
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
