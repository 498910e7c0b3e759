#include "matting/band_matting.h"

#include "matting/edge_width.h"

#include <opencv2/imgproc.hpp>

#include <array>

namespace buttonhole
{

namespace
{

constexpr int kRays = 8;
constexpr int kLongestRay = 4;   ///< times the band
constexpr float kMiddle = 0.8F;  ///< of the deepest place near by: the middle of what is thin
constexpr int kSmooth = 4;       ///< half the side of the windows of the colour line model, px
constexpr int kSmoothRight = 2;  ///< the same where the mask is right
constexpr float kNoise = 0.012F; ///< OKLab: what two pixels of one thing differ by

using Rays = std::array<cv::Vec2f, kRays>;

/// Directions all round, for each of the nine places in a square of three pixels.
const std::array<Rays, 9> &rays()
{
    static const std::array<Rays, 9> all = [] {
        std::array<Rays, 9> out;
        for (size_t turn = 0; turn < 9; ++turn)
            for (size_t k = 0; k < kRays; ++k) {
                const double angle = (double(turn) / 9 + double(k)) * 2 * CV_PI / kRays;
                out[turn][k] = {float(std::cos(angle)), float(std::sin(angle))};
            }
        return out;
    }();
    return all;
}

EdgeBand usual(EdgeBand band)
{
    band.hasWide = false;
    return band;
}

int reachOf(float share, const EdgeBand &band)
{
    return int(share * band.reach());
}

} // namespace

cv::Rect grown(const cv::Rect &part, int by, const cv::Size &size)
{
    const cv::Rect all({}, size);
    if (part.empty())
        return all;
    return cv::Rect(part.x - by, part.y - by, part.width + 2 * by, part.height + 2 * by) & all;
}

int BandMatting::reach(const EdgeBand &band, float share)
{
    constexpr float kReaches = kLongestRay + 1 + 1 / kMiddle; // a ray, to a middle, and its depth
    return int(kReaches * (std::ceil(share * band.reach()) + 1)) + 2 * kSmooth + 2 +
           (band.isFound ? kFoundWidthMargin : 0);
}

BandMatting::BandMatting(const cv::Mat3f &lab, const cv::Mat1f &mask, const SoftEdge &edge,
                         float share, MaskIs maskIs, Sides sides)
    : m_lab(lab), m_mask(mask), m_maskIs(maskIs), m_origin(edge.origin), m_usual(usual(edge.band)),
      m_usualReach(reachOf(share, m_usual)), m_wideReach(reachOf(share, edge.band)),
      m_wide(edge.wide), m_part(grown(edge.wanted, 2 * kSmooth, lab.size()))
{
    m_depth = depthIn(mask);
    const cv::Mat1f away = cv::abs(m_depth);
    if (edge.band.isFound)
        m_width = cv::min(foundWidth(lab, away), edge.band.mostFoundPx);
    m_open = edge.band.isFound ? away <= share * m_width : away <= share * edge.band.px;
    if (!edge.wide.empty())
        m_open |= (away <= share * EdgeBand::kWider * edge.band.px) & edge.wide;
    const cv::Rect open = cv::boundingRect(m_open(m_part));
    m_part =
        open.empty() ? cv::Rect() : grown(open + m_part.tl(), 2 * kSmooth, lab.size()) & m_part;
    if (m_part.empty())
        return;
    findSamples();
    if (sides == Sides::Ask)
        askSides(edge.sides);
}

cv::Mat1f BandMatting::evidence() const
{
    constexpr float kDoubt = 0.01F;
    const auto logit = [](float share) { return std::log(share / (1 - share)); };
    cv::Mat1f out(m_lab.size(), 0.0F);
    if (m_insideShare.empty())
        return out;
    for (int y = m_part.y; y < m_part.br().y; ++y)
        for (int x = m_part.x; x < m_part.br().x; ++x)
            if (m_open(y, x)) {
                const float share = m_insideShare(y - m_part.y, x - m_part.x);
                out(y, x) = logit(std::clamp(share, kDoubt, 1 - kDoubt)) +
                            logit(SideTable::prior(m_depth(y, x), wrongByPx(m_usual)));
            }
    return out;
}

cv::Mat1f BandMatting::solve() const
{
    cv::Mat1f out = m_mask.clone();
    if (m_part.empty())
        return out;
    cv::Mat1f alpha = cv::Mat1f(m_depth(m_part) > 0) / 255;
    cv::Mat1f weight(m_part.size(), 1.0F);
    for (int y = 0; y < m_part.height; ++y)
        for (int x = 0; x < m_part.width; ++x) {
            const cv::Point at(x + m_part.x, y + m_part.y);
            if (m_open(at)) {
                const Estimate e = estimate(at.x, at.y);
                alpha(y, x) = e.alpha;
                weight(y, x) = 0.002F + e.sure;
            }
        }
    smoothed(alpha, weight).copyTo(out(m_part));
    return out;
}

/// Fills m_toSample, as far as rays see.
void BandMatting::findSamples()
{
    const int reach = m_wide.empty() ? m_usualReach : m_wideReach;
    m_seen = grown(m_part, (kLongestRay + 1) * reach + 2, m_lab.size());
    cv::Mat1b cores = coresOf(m_usualReach);
    if (!m_wide.empty())
        coresOf(m_wideReach).copyTo(cores, m_wide(m_seen));
    cv::distanceTransform(m_open(m_seen) & ~cores, m_toSample, cv::DIST_L2, cv::DIST_MASK_5);
    cv::blur(m_lab(m_seen), m_calm, {3, 3});
}

void BandMatting::askSides(const SideTableSource &given)
{
    const SideColours sides(m_lab(m_part), m_part + m_origin,
                            given ? given : tablesOf(m_lab, m_depth, m_origin, wrongByPx(m_usual)));
    m_insideShare = cv::Mat1f(m_part.size(), 0.5F);
    for (int y = 0; y < m_part.height; ++y)
        for (int x = 0; x < m_part.width; ++x)
            if (m_open(y + m_part.y, x + m_part.x))
                m_insideShare(y, x) = sides.insideShare(x, y);
}

/// 255 along the middle of what is thinner than the band, which else would have no sample: a
/// thread's own colour is nowhere else. Over m_seen.
cv::Mat1b BandMatting::coresOf(int reach) const
{
    constexpr float kLeastPx = 1.2F;
    const float deep = float(reach + 1) / kMiddle; // the middle of that is not in the band
    const int side = 2 * reach + 1;
    const cv::Mat square = cv::getStructuringElement(cv::MORPH_RECT, {side, side});
    const auto middle = [&](const cv::Mat1f &own) {
        cv::Mat1f deepest;
        cv::dilate(cv::min(own, deep), deepest, square);
        return cv::Mat1b((own >= kMiddle * deepest) & (own > kLeastPx));
    };
    const cv::Mat1f depth = m_depth(m_seen);
    return middle(depth) | middle(-depth);
}

/// What samples say of a pixel, and what its colour alone says.
BandMatting::Estimate BandMatting::withSides(Estimate own, const cv::Point &at) const
{
    constexpr float kRough = 1.5F;  // what samples say of a mask that is wrong is often wrong too
    constexpr float kRight = 0.05F; // of a mask that is right the colours say less than it does
    constexpr float kAsSure = 0.5F;
    const float share = m_insideShare(at - m_part.tl());
    const float weight = std::abs(2 * share - 1) * (m_maskIs == MaskIs::Right ? kRight : kRough);
    const float sum = own.sure + weight + 1e-6F;
    return {(own.sure * own.alpha + weight * share + 1e-6F * own.alpha) / sum,
            own.sure + kAsSure * weight};
}

BandMatting::Estimate BandMatting::estimate(int x, int y) const
{
    std::array<cv::Vec3f, kRays> inside;
    std::array<cv::Vec3f, kRays> outside;
    int nIn = 0;
    int nOut = 0;
    // Neighbours look along different rays, so that together they see more.
    const auto turn = size_t((x + m_origin.x) % 3 + 3 * ((y + m_origin.y) % 3));
    // Where nothing is marked all is as if nothing were marked anywhere.
    const bool isWide = !m_wide.empty() && m_wide(y, x) != 0;
    const int longest = kLongestRay * (isWide ? m_wideReach : m_usualReach);
    for (const cv::Vec2f &ray : rays()[turn]) {
        int step = 1;
        while (step <= longest) {
            const int px = int(std::floor(float(x) + 0.5F + float(step) * ray[0]));
            const int py = int(std::floor(float(y) + 0.5F + float(step) * ray[1]));
            if (!m_seen.contains({px, py}))
                break;
            const cv::Point at(px, py);
            if (const float away = m_toSample(at - m_seen.tl()); away > 0) {
                constexpr float kSurely = 0.95F; // distances are right to a few percent
                step += std::max(1, int(kSurely * away));
                continue;
            }
            const cv::Vec3f &calm = m_calm(at - m_seen.tl());
            if (m_depth(at) > 0)
                inside[size_t(nIn++)] = calm;
            else
                outside[size_t(nOut++)] = calm;
            break;
        }
    }
    const cv::Vec3f c = m_lab(y, x);
    Estimate best{m_mask(y, x), 0};
    float least = 1e9F;
    for (int i = 0; i < nIn; ++i)
        for (int j = 0; j < nOut; ++j) {
            const cv::Vec3f axis = inside[size_t(i)] - outside[size_t(j)];
            const float length = axis.dot(axis);
            const float a = std::clamp((c - outside[size_t(j)]).dot(axis) / std::max(length, 1e-8F),
                                       0.0F, 1.0F);
            const cv::Vec3f off = c - outside[size_t(j)] - a * axis;
            const float cost =
                off.dot(off) / (kNoise * kNoise) + 0.3F * kNoise * kNoise / std::max(length, 1e-8F);
            if (cost >= least)
                continue;
            least = cost;
            const float apart = length / (length + 25 * kNoise * kNoise);
            best = {a, apart * std::exp(-off.dot(off) / (8 * kNoise * kNoise))};
        }
    return m_insideShare.empty() ? best : withSides(best, {x, y});
}

/// Of the windows.
int BandMatting::side() const
{
    return 2 * (m_maskIs == MaskIs::Right ? kSmoothRight : kSmooth) + 1;
}

cv::Mat BandMatting::box(const cv::Mat &in) const
{
    cv::Mat out;
    cv::boxFilter(in, out, CV_32F, {side(), side()}, {-1, -1}, true, cv::BORDER_REFLECT);
    return out;
}

BandMatting::Lines BandMatting::fitted(const cv::Mat1f &alpha, const cv::Mat1f &weight) const
{
    std::array<cv::Mat1f, 3> c;
    cv::split(m_lab(m_part), c.data());
    const cv::Mat1f w = box(weight);
    const cv::Mat1f wa = box(weight.mul(alpha));
    const cv::Mat1f waa = box(weight.mul(alpha).mul(alpha));
    std::array<cv::Mat1f, 3> wc;
    std::array<cv::Mat1f, 3> wca;
    for (size_t k = 0; k < 3; ++k) {
        const cv::Mat1f own = weight.mul(c[k]);
        wc[k] = box(own);
        wca[k] = box(own.mul(alpha));
    }
    std::array<cv::Mat1f, 6> wcc;
    constexpr std::array<std::pair<size_t, size_t>, 6> kPairs{
        {{0, 0}, {0, 1}, {0, 2}, {1, 1}, {1, 2}, {2, 2}}};
    for (size_t k = 0; k < 6; ++k)
        wcc[k] = box(weight.mul(c[kPairs[k].first]).mul(c[kPairs[k].second]));
    const cv::Size size = m_part.size();
    Lines out{cv::Mat4f(size, cv::Vec4f()), cv::Mat1f(size, 0.0F), {}};
    cv::dilate(m_open(m_part), out.near,
               cv::getStructuringElement(cv::MORPH_RECT, {side(), side()}));
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            if (out.near(y, x) == 0)
                continue;
            const float sum = std::max(w(y, x), 1e-6F);
            const cv::Vec3f mean(wc[0](y, x) / sum, wc[1](y, x) / sum, wc[2](y, x) / sum);
            const float meanA = wa(y, x) / sum;
            cv::Matx33f cov;
            for (size_t k = 0; k < 6; ++k) {
                const auto [i, j] = kPairs[k];
                cov(int(i), int(j)) = cov(int(j), int(i)) =
                    wcc[k](y, x) / sum - mean[int(i)] * mean[int(j)];
            }
            for (int k = 0; k < 3; ++k)
                cov(k, k) += kNoise * kNoise * 0.1F;
            const cv::Vec3f with(wca[0](y, x) / sum - mean[0] * meanA,
                                 wca[1](y, x) / sum - mean[1] * meanA,
                                 wca[2](y, x) / sum - mean[2] * meanA);
            const cv::Vec3f a = cov.inv(cv::DECOMP_CHOLESKY) * with;
            const float spread = waa(y, x) / sum - meanA * meanA;
            // Where all is on one side there is nothing to explain: then it is as sure as what
            // was sampled.
            constexpr float kFlat = 0.01F;
            const float sure = std::min(sum, 1.0F); // a mean weight
            out.told(y, x) =
                std::clamp((a.dot(with) + kFlat * sure) / (spread + kFlat), 0.0F, 1.0F);
            out.line(y, x) = {a[0], a[1], a[2], meanA - a.dot(mean)};
        }
    return out;
}

/// 0..1: how far colour is followed instead of the mask, by how much of coverage it tells.
float BandMatting::trustIn(float told) const
{
    return std::clamp(m_maskIs == MaskIs::Right ? 2 * told - 0.8F : 3 * told - 0.3F, 0.0F, 1.0F);
}

/// A pixel gets the mean of what its windows say, as far as colour tells.
cv::Mat1f BandMatting::smoothed(const cv::Mat1f &alpha, const cv::Mat1f &weight) const
{
    const Lines fit = fitted(alpha, weight);
    const cv::Mat4f lines = box(fit.line);
    const cv::Mat1f tells = box(fit.told);
    const cv::Mat1f count = box(cv::Mat1f(fit.near) / 255);
    const cv::Mat1f mask = m_mask(m_part);
    const cv::Mat3f lab = m_lab(m_part);
    const cv::Mat1b open = m_open(m_part);
    cv::Mat1f out = mask.clone();
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x)
            if (open(y, x)) {
                const float share = std::max(count(y, x), 1e-6F);
                const cv::Vec4f l = lines(y, x) / share;
                const cv::Vec3f &colour = lab(y, x);
                const float by = std::clamp(
                    l[0] * colour[0] + l[1] * colour[1] + l[2] * colour[2] + l[3], 0.0F, 1.0F);
                const float trust = trustIn(tells(y, x) / share);
                out(y, x) = mask(y, x) + trust * (by - mask(y, x));
            }
    return out;
}

} // namespace buttonhole
