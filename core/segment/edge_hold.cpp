#include "segment/edge_hold.h"

#include "io/lab_row.h"
#include "raster/parallel_tiles.h"
#include "segment/cut.h"
#include "segment/geodesic.h"
#include "segment/growth.h"
#include "segment/look_frame.h"
#include "segment/parts.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kFrameEdge = 72; ///< px: the tip is looked at this small
constexpr float kCostPerPx = 0.001F;
constexpr float kEdgeTexture = 0.01F; ///< OKLab between neighbours: more is an edge
constexpr float kStandsOut = 0.3F;    ///< below this score there is no edge under the tip
constexpr float kFree = 0.2F;         ///< OKLab, what may be crossed then
constexpr float kMostRest = 0.15F;    ///< and at most where there is one

/// What grew from the trail, over one look at the tip.
struct Grown {
    cv::Mat1f cost; ///< 0 on the trail
    float limit = 0;
    bool standsOut = false;
};

cv::Mat1f trailStarts(const LookFrame &frame, const std::vector<PhotoPoint> &trail, float radiusPx)
{
    constexpr float kBack = 2; // radii
    const auto inFrame = [&](const PhotoPoint &p) {
        const cv::Point2d at = frame.toFrame(p);
        return cv::Point(int(std::floor(at.x)), int(std::floor(at.y)));
    };
    const int core = std::max(0, int(0.12 * double(radiusPx) * frame.scale));
    const cv::Point middle = inFrame(trail.back());
    cv::Mat1f starts(frame.lab.size(), 1e6F);
    cv::circle(starts,
               {std::clamp(middle.x, 0, starts.cols - 1), std::clamp(middle.y, 0, starts.rows - 1)},
               core, 0.0F, cv::FILLED);
    for (size_t i = trail.size() - 1; i-- > 0;) {
        if (distance(trail[i], trail.back()) > double(kBack * radiusPx))
            break;
        cv::line(starts, inFrame(trail[i + 1]), inFrame(trail[i]), 0.0F, 2 * core + 1);
    }
    return starts;
}

Grown grownFrom(const LookFrame &frame, const cv::Mat1f &starts, float strictness)
{
    const float texture = textureUnder(frame.lab, cv::Mat1b(starts <= 0), kEdgeTexture);
    Grown out;
    out.cost = GeodesicSteps(frame.lab, texture, kCostPerPx).distance(starts);
    const Rest rest =
        restingCost(frame.lab, out.cost, {}, {0.02F, kMostRest, double(out.cost.total())});
    out.standsOut = rest.standsOut >= double(kStandsOut);
    out.limit = out.standsOut ? rest.cost * std::exp2(0.5F - strictness)
                              : std::max(rest.cost, kFree * (1.5F - strictness));
    return out;
}

/// 255 for what belongs: cut as a graph by what grew and by colours, as far as it hangs together
/// with the trail.
/// @param bias more: more belongs
cv::Mat1b cutFrom(const LookFrame &frame, const Grown &grown, const cv::Mat1i &bins,
                  const HeldColours &colours, float bias)
{
    constexpr float kHoldTie = 2;
    constexpr float kMostNear = 2;
    constexpr float kLeastColour = -3;
    constexpr float kAbout = 1.6F; // of the limit: nearness says neither there
    const cv::Mat1b open(grown.cost > 0);
    cv::Mat1b labels(~open);
    cv::Mat1f evidence(open.size());
    for (int y = 0; y < open.rows; ++y)
        for (int x = 0; x < open.cols; ++x) {
            const float near = 4 * (kAbout - grown.cost(y, x) / grown.limit);
            evidence(y, x) = grown.standsOut ? std::clamp(near, -kMostNear, kMostNear) : 0;
            evidence(y, x) += std::max(colours.logit(bins(y, x)), kLeastColour) + bias;
        }
    cutGraph(frame.lab, evidence, labels, open, kHoldTie);
    return partsTouching(labels, cv::Mat1b(~open), 4);
}

/// One pixel of the photo between four of the frame: as those that it looks like.
float shareLike(const cv::Vec3f &lab, const LookFrame &frame, const cv::Mat1f &share, int x0,
                int y0)
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

/// Along one axis: the photo's pixels that lie between the middles of frame pixels i and i + 1 are
/// those from [i] to [i + 1] of the answer.
std::vector<int> startsOf(int photoPx, int framePx, double scale)
{
    std::vector<int> out(size_t(framePx) + 1, photoPx);
    for (int i = photoPx; i-- > 0;)
        out[size_t(std::clamp(int((i + 0.5) * scale - 0.5), 0, framePx - 1))] = i;
    for (size_t i = out.size() - 1; i-- > 0;)
        out[i] = std::min(out[i], out[i + 1]);
    return out;
}

/// At the photo's own pixels what is known for the frame's.
/// @param share 0..1 @param area level-0 px
Image<uint8_t> enlargedShare(const PhotoLevels &levels, const LookFrame &frame,
                             const cv::Mat1f &share, const Rect &area)
{
    Image<uint8_t> enlarged(area.width(), area.height(), 1);
    const std::vector<int> starts = startsOf(area.width(), share.cols, frame.scale);
    const auto code = [](float value) { return uint8_t(value * 255 + 0.5F); };
    constexpr int kRows = 32;
    parallelRows(area.height(), kRows, [&](int from, int to) {
        LabRow run;
        for (int y = from; y < to; ++y) {
            uint8_t *out = enlarged.row(y);
            const int fy = std::clamp(int((y + 0.5) * frame.scale - 0.5), 0, share.rows - 1);
            const float *row = share[fy];
            const float *next = share[std::min(fy + 1, share.rows - 1)];
            int read = -1; // the run that is in hand
            for (int fx = 0; fx < share.cols; ++fx) {
                const int fxNext = std::min(fx + 1, share.cols - 1);
                const float s = row[fx];
                const int end = starts[size_t(fx) + 1];
                if (s == row[fxNext] && s == next[fx] && s == next[fxNext]) {
                    std::fill(out + starts[size_t(fx)], out + end, code(s));
                    continue;
                }
                for (int x = starts[size_t(fx)]; x < end; ++x) {
                    if (x / kRowRun != read) {
                        read = x / kRowRun;
                        const int start = read * kRowRun;
                        run.read(levels, 0, area.x0 + start, area.y0 + y,
                                 std::min(kRowRun, area.width() - start));
                    }
                    const int i = x % kRowRun;
                    out[x] = code(shareLike({run.L[i], run.a[i], run.b[i]}, frame, share, fx, fy));
                }
            }
        }
    });
    return enlarged;
}

cv::Mat1i binsOf(const LookFrame &frame)
{
    cv::Mat1i bins(frame.lab.size());
    std::transform(frame.lab.begin(), frame.lab.end(), bins.begin(),
                   [](const cv::Vec3f &c) { return ColourBins::binOf(c[0], c[1], c[2]); });
    return bins;
}

/// What one look shows by itself.
HeldColours coloursUnder(const cv::Mat1i &bins, const cv::Mat1f &starts, float radius)
{
    cv::Mat1f away;
    cv::distanceTransform(starts > 0, away, cv::DIST_L2, cv::DIST_MASK_3);
    HeldColours out;
    for (int y = 0; y < bins.rows; ++y)
        for (int x = 0; x < bins.cols; ++x) {
            // What is far from the trail says more of what does not belong.
            out.see(bins(y, x), std::min(1.0F, away(y, x) / radius));
            if (starts(y, x) <= 0)
                out.pass(bins(y, x));
        }
    return out;
}

constexpr float kFades = 0.6F; ///< what the next look, or the one before, knows counts so much

} // namespace

struct HeldStroke::Look {
    PhotoPoint centre;
    Rect area;
    LookFrame frame;
    Grown grown;
    cv::Mat1i bins;
    HeldColours own;       ///< what it shows by itself
    HeldColours learnt;    ///< and with what was known by then
    Image<uint8_t> answer; ///< what it has said belongs
};

HeldStroke::HeldStroke(const PhotoLevels &levels, float radiusPx, float strictness)
    : m_levels(levels), m_radiusPx(radiusPx), m_strictness(strictness)
{
}

HeldStroke::~HeldStroke() = default;

HeldTip HeldStroke::look()
{
    constexpr float kSure = 1.5F;
    const PhotoPoint &centre = m_trail.back();
    const float reach = kReach * m_radiusPx + 2;
    auto look = std::make_unique<Look>();
    look->centre = centre;
    look->area = intersected(m_levels.photo().rect(),
                             {int(std::floor(centre.x - reach)), int(std::floor(centre.y - reach)),
                              int(std::ceil(centre.x + reach)), int(std::ceil(centre.y + reach))});
    HeldTip tip{centre, look->area, {}};
    if (!look->area.isEmpty()) {
        look->frame = readFrame(m_levels, look->area, kFrameEdge);
        const cv::Mat1f starts = trailStarts(look->frame, m_trail, m_radiusPx);
        look->grown = grownFrom(look->frame, starts, m_strictness);
        look->bins = binsOf(look->frame);
        look->own = coloursUnder(look->bins, starts, m_radiusPx * float(look->frame.scale));
        look->learnt = look->own;
        look->learnt.add(m_learnt, kFades);
        m_learnt = look->learnt;
        look->answer = answerOf(*look, look->learnt, -kSure);
        tip.share = look->answer.clone();
    }
    m_looks.push_back(std::move(look));
    return tip;
}

HeldTip HeldStroke::settle()
{
    const Look &look = *m_looks.front();
    HeldTip tip{look.centre, look.area, {}};
    if (!look.area.isEmpty()) {
        HeldColours colours = look.learnt;
        float share = 1;
        for (size_t i = 1; i < m_looks.size(); ++i)
            colours.add(m_looks[i]->own, share *= kFades);
        tip.share = answerOf(look, colours, 0);
        for (int y = 0; y < tip.share.height(); ++y) {
            uint8_t *more = tip.share.row(y);
            const uint8_t *said = look.answer.row(y);
            for (int x = 0; x < tip.share.width(); ++x)
                more[x] = uint8_t(more[x] - std::min(more[x], said[x]));
        }
    }
    m_looks.pop_front();
    return tip;
}

Image<uint8_t> HeldStroke::answerOf(const Look &look, const HeldColours &colours, float bias) const
{
    constexpr float kStrict = 2;
    const cv::Mat1b belongs =
        cutFrom(look.frame, look.grown, look.bins, colours, bias + kStrict * (0.5F - m_strictness));
    return enlargedShare(m_levels, look.frame, cv::Mat1f(cv::Mat(belongs) / 255.0), look.area);
}

} // namespace buttonhole
