#include "segment/region_look.h"

#include "raster/parallel_tiles.h"
#include "segment/geodesic.h"
#include "segment/growth.h"
#include "segment/parts.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr float kNever = 1e6F;
constexpr float kBorderStart = 0.05F; ///< what starting at the photo's border costs
constexpr float kPerPx = 0.0008F;     ///< of the frame
constexpr float kMostTexture = 0.03F;

/// A line through the mark's points, at least a pixel of the frame wide.
void drawMark(cv::Mat1b &on, const LookFrame &frame, const RegionMark &mark)
{
    const int thickness = std::max(1, int(std::lround(2 * double(mark.radiusPx) * frame.scale)));
    const auto at = [&](size_t i) {
        const cv::Point2d p = frame.toFrame(mark.points[i]);
        return cv::Point(std::clamp(int(std::floor(p.x)), 0, on.cols - 1),
                         std::clamp(int(std::floor(p.y)), 0, on.rows - 1));
    };
    for (size_t i = 0; i < mark.points.size(); ++i)
        cv::line(on, at(i == 0 ? 0 : i - 1), at(i), 255, thickness);
}

/// Where ways from what is not kept start, and what that costs.
cv::Mat1f startsOutside(const RegionLook &look, bool atPhotoBorder)
{
    cv::Mat1f out(look.keep.size(), kNever);
    if (atPhotoBorder || cv::countNonZero(look.leave) == 0)
        for (cv::Mat side : {out.row(0), out.row(out.rows - 1), out.col(0), out.col(out.cols - 1)})
            side.setTo(kBorderStart);
    if (!look.prior.empty() &&
        look.found.empty()) // what is cut off by the border does not end there
        out.setTo(kNever, look.prior > 0);
    if (!look.found.empty() && !look.addsOnly)
        out.setTo(0, ~look.found);
    out.setTo(kNever, look.keep);
    out.setTo(0, look.leave);
    return out;
}

cv::Mat1f startsInside(const RegionLook &look)
{
    cv::Mat1f in(look.keep.size(), kNever);
    if (!look.found.empty() && look.addsOnly)
        in.setTo(0, look.found);
    in.setTo(kNever, look.leave);
    in.setTo(0, look.keep);
    return in;
}

/// How much a further mark may change, px: a share of what there is, or a few times what a stroke
/// goes round.
double largestChange(const RegionLook &look)
{
    std::vector<cv::Point> at;
    cv::findNonZero(look.last, at);
    std::vector<cv::Point> hull;
    if (at.size() > 2)
        cv::convexHull(at, hull);
    const double goneRound = hull.size() > 2 ? cv::contourArea(hull) : 0;
    const double share = !look.addsOnly ? 0.6 : look.lastIsClick ? 1 : 0.35;
    return std::max({0.004 * double(look.last.total()), 3 * goneRound,
                     share * double(cv::countNonZero(look.found))});
}

/// What a further mark may change, and what lies round that.
cv::Mat1b roundOpen(const RegionLook &look)
{
    const cv::Mat1b open(~look.closed | look.last);
    const int reach = 3 + int(0.15 * std::sqrt(double(cv::countNonZero(open))));
    cv::Mat1b out;
    cv::dilate(open, out,
               cv::getStructuringElement(cv::MORPH_RECT, {2 * reach + 1, 2 * reach + 1}));
    return out;
}

/// What each pixel differs from what is under the last mark by, on the way from there. Lightness
/// counts little: shading is no edge.
cv::Mat1f unlikeLast(const RegionLook &look)
{
    constexpr double kTextureSigma = 1.5;
    constexpr float kLightness = 0.3F;
    cv::Mat3f smooth;
    cv::GaussianBlur(look.frame.lab, smooth, {0, 0}, kTextureSigma);
    for (cv::Vec3f &c : smooth)
        c[0] *= kLightness;
    const cv::Scalar mean = cv::mean(smooth, look.last);
    return leastDifference(smooth, {float(mean[0]), float(mean[1]), float(mean[2])}, look.last);
}

/// Stops well before the first mark that says otherwise.
Growth shortOf(const cv::Mat1b &against, const cv::Mat1f &cost, Growth growth)
{
    constexpr double kWell = 0.7;
    constexpr float kSmall = 1e-4F;
    double least = 0;
    if (cv::countNonZero(against) == 0)
        return growth;
    cv::minMaxLoc(cost, &least, nullptr, nullptr, nullptr, against);
    const auto most = std::max(float(kWell * least), kSmall);
    growth.least = std::min(growth.least, most);
    growth.most = std::max(std::min(growth.most, most), growth.least * 1.01F);
    return growth;
}

/// Costs of ways over one look.
struct Ways {
    cv::Mat3f calm;
    GeodesicSteps steps;

    explicit Ways(const RegionLook &look)
        : calm(calmOf(look.frame.lab)), steps(calm, textureOf(look), kPerPx)
    {
    }
    cv::Mat1f from(const cv::Mat1f &starts) const { return steps.distance(starts.clone()); }

private:
    static cv::Mat3f calmOf(const cv::Mat3f &lab)
    {
        cv::Mat3f out;
        cv::GaussianBlur(lab, out, {0, 0}, 0.8);
        return out;
    }
    static float textureOf(const RegionLook &look)
    {
        const bool hasKeep = cv::countNonZero(look.keep) > 0;
        return textureUnder(look.frame.lab, hasKeep ? look.keep : cv::Mat1b(~look.leave),
                            kMostTexture);
    }
};

/// What of the region is deep inside it: a mark elsewhere does not take that away.
cv::Mat1b coreOf(const cv::Mat1b &found, const cv::Mat1b &mark)
{
    constexpr double kDeep = 0.6;
    cv::Mat1f depth;
    double deepest = 0;
    cv::distanceTransform(found, depth, cv::DIST_L2, cv::DIST_MASK_5);
    cv::minMaxLoc(depth, nullptr, &deepest);
    cv::Mat1b core(depth > kDeep * deepest);
    if (cv::countNonZero(core & mark) > 0)
        core = 0;
    return core;
}

/// Of each pixel from the nearest that is set, px of the frame.
cv::Mat1f distanceTo(const cv::Mat1b &mark)
{
    cv::Mat1f out(mark.size(), kNever);
    if (cv::countNonZero(mark) > 0)
        cv::distanceTransform(~mark, out, cv::DIST_L2, cv::DIST_MASK_5);
    return out;
}

/// 255 where a mark that takes away would reach the core of the region, and lies farther off than
/// that: what is all alike is told apart by nearness alone.
cv::Mat1b nearerCore(const RegionLook &look, const cv::Mat1b &reached)
{
    const cv::Mat1b core = coreOf(look.found, look.last);
    if (cv::countNonZero(core & reached) == 0)
        return cv::Mat1b(cv::Mat1b::zeros(core.size()));
    return cv::Mat1b(distanceTo(core) < distanceTo(look.last));
}

/// A leave stroke says all along that the edge is not there: it opens what was found close by, but
/// for what is nearer to a keep mark. One that runs beside what was found, not across it, opens no
/// more than that.
void openBeside(RegionLook &look)
{
    constexpr float kClose = 4;      // px of the frame
    constexpr double kMostOn = 0.15; // of the stroke
    if (cv::countNonZero(look.last & look.found) < kMostOn * cv::countNonZero(look.last))
        look.closed = 255;
    const cv::Mat1f toMark = distanceTo(look.last);
    look.closed.setTo(0, look.found & (toMark < kClose) & (toMark <= distanceTo(look.keep)));
}

/// 255 where a keep mark's piece cannot lie: it stands about in the middle of what is missing, so
/// that goes no more than twice as far from what was found as the mark does.
cv::Mat1b beyondLast(const RegionLook &look)
{
    constexpr double kTwice = 2;
    constexpr double kLeast = 3; // px of the frame
    cv::Mat1f toFound;
    double farthest = 0;
    cv::distanceTransform(~look.found, toFound, cv::DIST_L2, cv::DIST_MASK_5);
    cv::minMaxLoc(toFound, nullptr, &farthest, nullptr, nullptr, look.last);
    return cv::Mat1b(toFound > std::max(kTwice * farthest, kLeast));
}

/// Where a further mark comes to rest: by the ways to it, or by likeness, whichever stands out.
/// Sets look.grewBy and look.restedAt. @return the cost of each pixel
cv::Mat1f growLast(RegionLook &look, const Ways &ways, const cv::Mat1b &settled)
{
    constexpr double kClearly = 1.1;
    constexpr float kAbout = 1.6F;
    if (look.largest <= 0)
        look.largest = largestChange(look);
    const double largest = look.largest;
    const double eager = look.addsOnly ? 1 : 0.85;
    Growth growths[] = {{0.012F, look.addsOnly ? 0.2F : 0.4F, largest, eager},
                        {0.02F, 0.12F, largest, eager}};
    if (look.grewBy != GrewBy::Open) // as the coarser look decided
        for (Growth &growth : growths) {
            growth.least = look.restedAt / kAbout;
            growth.most = look.restedAt * kAbout;
        }
    const cv::Mat1b against((look.addsOnly ? look.leave : look.keep) & ~look.last);
    cv::Mat1f costs[2];
    Rest rests[2];
    parallelFor(2, [&](int i) {
        if (look.grewBy == (i == 0 ? GrewBy::Likeness : GrewBy::Ways))
            return;
        if (i == 0) {
            cv::Mat1f starts(look.last.size(), kNever);
            starts.setTo(0, look.last);
            costs[i] = ways.from(starts);
        } else {
            costs[i] = unlikeLast(look);
        }
        if (look.grewBy != GrewBy::Open && look.restedAt <= 0)
            return; // it found no rest: the mark alone
        const Growth growth = shortOf(against, costs[i], growths[i]);
        rests[i] = restingCost(ways.calm, costs[i], settled, growth);
    });
    if (look.grewBy == GrewBy::Open)
        look.grewBy =
            rests[1].standsOut > rests[0].standsOut * kClearly ? GrewBy::Likeness : GrewBy::Ways;
    const size_t chosen = look.grewBy == GrewBy::Likeness ? 1 : 0;
    look.restedAt = rests[chosen].cost;
    return costs[chosen];
}

/// A box alone holds what is far from its outside: how far, so that it differs most from what lies
/// round it.
float middleOfBox(const cv::Mat3f &lab, const cv::Mat1f &out, const cv::Mat1b &leave)
{
    double farthest = 0;
    cv::minMaxLoc(out, nullptr, &farthest, nullptr, nullptr, ~leave);
    const auto top = float(farthest);
    if (top <= 0)
        return 1e-6F;
    cv::Mat1f cost(top * 1.001F - out);
    cost.setTo(kNever, leave);
    const double room = double(leave.total()) - cv::countNonZero(leave);
    const Growth growth{0.1F * top, top, 0.9 * room};
    return std::max(top - restingCost(lab, cost, {}, growth).cost, 0.02F * top);
}

} // namespace

cv::Rect boxIn(const LookFrame &frame, const Rect &box)
{
    const cv::Point2d a = frame.toFrame({float(box.x0), float(box.y0)});
    const cv::Point2d b = frame.toFrame({float(box.x1), float(box.y1)});
    return cv::Rect(cv::Point(int(std::floor(a.x)), int(std::floor(a.y))),
                    cv::Point(int(std::ceil(b.x)), int(std::ceil(b.y)))) &
           frame.rect();
}

RegionLook lookAt(const PhotoLevels &levels, const RegionAsk &ask, const Rect &area, int longEdge)
{
    RegionLook look;
    look.frame = readFrame(levels, area, longEdge);
    const cv::Size size = look.frame.lab.size();
    look.bins.create(size);
    std::transform(look.frame.lab.begin(), look.frame.lab.end(), look.bins.begin(),
                   ColourDensity::binOf);
    look.keep = cv::Mat1b::zeros(size);
    look.leave = cv::Mat1b::zeros(size);
    look.last = cv::Mat1b::zeros(size);
    if (ask.box) {
        look.leave = 255;
        look.leave(boxIn(look.frame, *ask.box)) = 0;
    }
    for (const RegionMark &mark : ask.marks) { // where two cross, the later wins
        look.last = cv::Mat1b::zeros(size);
        drawMark(look.last, look.frame, mark);
        look.addsOnly = !mark.isLeave;
        look.lastIsClick = mark.points.size() == 1;
        look.keep.setTo(mark.isLeave ? 0 : 255, look.last);
        look.leave.setTo(mark.isLeave ? 255 : 0, look.last);
    }
    return look;
}

void addPrior(RegionLook &look, const RegionPrior &prior)
{
    constexpr float kLeast = 0.04F;
    const cv::Mat1f inside(prior.inside.height(), prior.inside.width(),
                           const_cast<float *>(prior.inside.row(0)));
    const double sx = double(inside.cols) / prior.area.width();
    const double sy = double(inside.rows) / prior.area.height();
    const double px = 1 / look.frame.scale;
    const cv::Matx23d map(px * sx, 0, (look.frame.area.x0 - prior.area.x0) * sx, //
                          0, px * sy, (look.frame.area.y0 - prior.area.y0) * sy);
    cv::Mat1f seen;
    cv::warpAffine(inside, seen, map, look.keep.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP,
                   cv::BORDER_CONSTANT, 0.5);
    if (look.prior.empty())
        look.prior = cv::Mat1f::zeros(seen.size());
    for (int y = 0; y < seen.rows; ++y)
        for (int x = 0; x < seen.cols; ++x) {
            const float p = std::clamp(seen(y, x), kLeast, 1 - kLeast);
            look.prior(y, x) += prior.trust * std::log(p / (1 - p));
        }
    look.priorTrust = std::max(look.priorTrust, prior.trust);
}

void measureNearness(RegionLook &look, float reach, bool atPhotoBorder)
{
    const Ways ways(look);
    const bool hasKeep = cv::countNonZero(look.keep) > 0;
    const float farther = std::exp2(1.5F * reach);
    cv::Mat1f out = startsOutside(look, atPhotoBorder);
    if (!look.found.empty()) {
        const cv::Mat1b settled = look.addsOnly ? look.found : cv::Mat1b(~look.found);
        const cv::Mat1f cost = growLast(look, ways, settled);
        const float rest = std::max(farther * look.restedAt, 1e-6F);
        look.closed = (cost > rest) | settled;
        if (look.addsOnly) {
            look.beyond = beyondLast(look);
            look.closed |= look.beyond;
            look.around = roundOpen(look);
        } else {
            look.closed |= nearerCore(look, cv::Mat1b(~look.closed));
            if (!look.lastIsClick)
                openBeside(look);
        }
        if (look.grewBy == GrewBy::Likeness) {
            const cv::Mat1f &unlike = cost;
            look.near = look.addsOnly ? cv::Mat1f(rest / (rest + unlike))
                                      : cv::Mat1f(unlike / (rest + unlike));
            return;
        }
        if (look.addsOnly) // what is too far from the mark is as good as outside
            out = cv::min(out, rest);
        out.setTo(0, look.leave);
        out.setTo(kNever, look.keep | (look.addsOnly ? look.found : cv::Mat1b(look.keep)));
    }
    cv::Mat1f in;
    parallelFor(2, [&](int i) {
        if (i == 0)
            out = ways.from(out);
        else if (hasKeep)
            in = ways.from(startsInside(look));
    });
    if (hasKeep && look.found.empty()) {
        const Growth growth{0.02F, 1, 0.6 * double(in.total())};
        look.closed = in > farther * restingCost(ways.calm, in, {}, growth).cost;
    }
    if (!hasKeep)
        in = cv::Mat1f(out.size(), middleOfBox(ways.calm, out, look.leave) / farther);
    look.near = out / (in + out + 1e-6F);
}

bool openAlike(RegionLook &look)
{
    constexpr float kClearly = 0.73F; // share of evidence: a logit of 1
    constexpr float kDark = 0.2F;     // OKLab: below it things have no colour to be told by
    if (look.closed.empty() || !look.addsOnly)
        return false;
    const cv::Mat1b added =
        look.found.empty() ? look.labels.clone() : cv::Mat1b(look.labels & ~look.found);
    cv::Mat1b alike = added.clone();
    for (int y = 0; y < alike.rows; ++y)
        for (int x = 0; x < alike.cols; ++x)
            if (!look.labels(y, x) && !look.leave(y, x) && look.frame.lab(y, x)[0] >= kDark &&
                shareOf(look.colours.inside, look.colours.outside, look.bins(y, x)) > kClearly)
                alike(y, x) = 255;
    alike = partsTouching(alike, added, 4);
    if (!look.found.empty() && cv::countNonZero(alike) > look.largest)
        return false;
    cv::dilate(alike, alike, cv::Mat1b::ones(3, 3)); // and the mixed pixels at its rim
    if (!look.beyond.empty())
        alike.setTo(0, look.beyond);
    const bool opens = cv::countNonZero(look.closed & alike) > 0;
    look.closed.setTo(0, alike);
    return opens;
}

} // namespace buttonhole
