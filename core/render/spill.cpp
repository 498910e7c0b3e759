#include "render/spill.h"

#include "colour/oklab.h"
#include "io/lab_run.h"
#include "render/mask_stage.h"

#include <opencv2/imgproc.hpp>

namespace buttonhole
{

namespace
{

constexpr float kPartly = 0.97F; ///< less than that much coverage has been spilt into
constexpr float kLeastWeight = 1e-9F;
constexpr int kMarkReachPx = 128; ///< of the photo: so far a marked place looks for colour

/// The photo and the mask of one keep, over a part of a level.
struct Surroundings {
    cv::Mat1f covered; ///< 0..1
    cv::Mat1f marked;  ///< 0..1, by the spill brush; empty: nothing
    cv::Mat3f light;   ///< linear RGB of the photo: what mixes in a pixel
};

cv::Mat1f shares(const std::vector<uint16_t> &mask, const cv::Size &size, float full)
{
    cv::Mat1f out(size);
    std::transform(mask.begin(), mask.end(), out.begin(),
                   [&](uint16_t v) { return float(v) / full; });
    return out;
}

Surroundings read(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                  StageCache *cache)
{
    const cv::Size size(area.width(), area.height());
    Surroundings out{{}, {}, cv::Mat3f(size)};
    std::vector<uint16_t> mask(area.area());
    keepMaskOver(levels, keep, level, area, mask.data(), cache);
    out.covered = shares(mask, size, std::max(1.0F, 65535 * keep.strength));
    if (markedPart(levels, keep, Sign::Spill, level, area, mask.data()))
        out.marked = shares(mask, size, 65535);
    alignas(64) float r[kRowRun + 64];
    alignas(64) float g[kRowRun + 64];
    alignas(64) float b[kRowRun + 64];
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; x += kRowRun) {
            const int n = std::min(kRowRun, size.width - x);
            readLightRow(levels, level, area.x0 + x, area.y0 + y, n, r, g, b);
            for (int i = 0; i < n; ++i)
                out.light(y, x + i) = {r[i], g[i], b[i]};
        }
    return out;
}

/// What has weight round each pixel, summed: linear RGB, and weight.
struct LightSum {
    cv::Mat4f sum;

    bool isSomething(const cv::Point &at) const { return sum(at)[3] >= kLeastWeight; }
    cv::Vec3f mean(const cv::Point &at) const
    {
        const cv::Vec4f &s = sum(at);
        return cv::Vec3f(s[0], s[1], s[2]) / std::max(s[3], kLeastWeight);
    }
};

/// Within some reaches, the smallest first: boxes twice over, and what lies within a smaller one
/// counts far more, where there is something.
/// @param weighted linear RGB times weight, and weight
LightSum sumRound(const cv::Mat4f &weighted, std::initializer_list<int> reaches)
{
    constexpr double kNearer = 20;
    LightSum out{cv::Mat4f(weighted.size(), cv::Vec4f())};
    for (const int reach : reaches) {
        const cv::Size size(reach | 1, reach | 1);
        cv::Mat4f one;
        cv::boxFilter(weighted, one, CV_32F, size, {-1, -1}, true, cv::BORDER_CONSTANT);
        cv::boxFilter(one, one, CV_32F, size, {-1, -1}, true, cv::BORDER_CONSTANT);
        out.sum = kNearer * out.sum + one;
    }
    return out;
}

/// Whose colours count: what is covered (or not) by more than a half, and hardly unless nearly
/// fully; and not what is marked.
cv::Mat4f weighted(const Surroundings &of, bool isCovered)
{
    constexpr int kSteep = 8;
    cv::Mat1f weight;
    cv::pow(cv::max(isCovered ? of.covered - 0.5F : 0.5F - of.covered, 0), kSteep, weight);
    if (!of.marked.empty())
        weight = weight.mul(1 - of.marked);
    cv::Mat4f out(weight.size());
    std::transform(of.light.begin(), of.light.end(), weight.begin(), out.begin(),
                   [](const cv::Vec3f &light, float w) {
                       return cv::Vec4f(w * light[0], w * light[1], w * light[2], w);
                   });
    return out;
}

/// OKLab's a and b.
cv::Vec2f chromaOf(const std::array<float, 9> &toLms, const cv::Vec3f &light)
{
    const cv::Matx33f cones(toLms.data());
    cv::Vec3f root = cones * light;
    for (int i = 0; i < 3; ++i)
        root[i] = std::cbrt(root[i]);
    const auto row = [&](size_t i) {
        const auto &m = kLmsRootToLab[i];
        return float(m[0]) * root[0] + float(m[1]) * root[1] + float(m[2]) * root[2];
    };
    return {row(1), row(2)};
}

/// The colour of one keep, as far as it was spilt into, over the surroundings of an area.
class OwnColour
{
public:
    OwnColour(const Surroundings &near, const Keep &keep, int level)
        : m_near(near), m_edges(keep.spill), m_marks(keep.spillShare())
    {
        const auto px = [&](int ofPhoto) { return std::max(1, ofPhoto >> level); };
        const int closest = px(3);
        const int close = px(8);
        const int reach = px(Spill::edgeReachPx(keep));
        const cv::Mat4f own = weighted(near, true);
        m_own = sumRound(own, {closest, close, reach});
        if (!near.marked.empty())
            m_farther = sumRound(own, {closest, close, reach, px(kMarkReachPx)});
        m_behind = sumRound(weighted(near, false), {closest, close, reach});
    }

    struct Answer {
        float share = 0; ///< 0..1 of the way
        cv::Vec3f light;
    };

    Answer at(const cv::Point &p) const
    {
        const float covered = m_near.covered(p);
        const float byEdge =
            m_own.isSomething(p) ? m_edges * std::clamp((kPartly - covered) * 8, 0.0F, 1.0F) : 0;
        const float byMark =
            m_near.marked.empty() || !m_farther.isSomething(p) ? 0 : m_marks * m_near.marked(p);
        if (byMark > byEdge)
            return {byMark, m_farther.mean(p)};
        cv::Vec3f light = m_own.mean(p);
        if (byEdge > 0 && m_behind.isSomething(p)) {
            // What the mixture of both leaves unexplained is the subject's, the more it covers.
            const cv::Vec3f mixture = covered * light + (1 - covered) * m_behind.mean(p);
            light += covered * (m_near.light(p) - mixture);
            for (int c = 0; c < 3; ++c)
                light[c] = std::max(light[c], 0.0F);
        }
        return {byEdge, light};
    }

private:
    const Surroundings &m_near;
    const float m_edges;
    const float m_marks;
    LightSum m_own;
    LightSum m_farther; ///< for what is marked, whose neighbours may be, too
    LightSum m_behind;
};

/// Says whether a keep's marks touch an area.
bool isMarked(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area)
{
    std::vector<uint16_t> marks(area.area());
    return markedPart(levels, keep, Sign::Spill, level, area, marks.data()) &&
           std::any_of(marks.begin(), marks.end(), [](uint16_t v) { return v > 0; });
}

} // namespace

bool Spill::isAsked(const Take &take)
{
    return std::any_of(take.keeps.begin(), take.keeps.end(),
                       [](const Keep &keep) { return keep.on && keep.spillShare() > 0; });
}

int Spill::edgeReachPx(const Keep &keep)
{
    constexpr float kLeast = 24;
    return int(std::max(kLeast, 2 * keep.softBand().reach() + 3 * keep.featherPx));
}

int Spill::reachPx(const Keep &keep)
{
    return keep.hasMarks(Sign::Spill) ? std::max(kMarkReachPx, edgeReachPx(keep))
                                      : edgeReachPx(keep);
}

Spill::Spill(const PhotoLevels &levels, const Take &take, int level, const Rect &area,
             const uint16_t *mask, const uint16_t *owner, StageCache *cache)
    : m_width(area.width())
{
    const size_t n = area.area();
    const bool isPartly =
        std::any_of(mask, mask + n, [](uint16_t v) { return v > 0 && v < 65535; });
    for (size_t k = 0; k < take.keeps.size(); ++k) {
        const Keep &keep = take.keeps[k];
        const auto mark = uint16_t(k + 1);
        if (!keep.on || keep.spillShare() <= 0 || std::find(owner, owner + n, mark) == owner + n)
            continue;
        const bool hasMarks = isMarked(levels, keep, level, area);
        if (!isPartly && !hasMarks)
            continue;
        const int reach = std::max(1, (hasMarks ? reachPx(keep) : edgeReachPx(keep)) >> level);
        const Rect wide =
            intersected({area.x0 - reach, area.y0 - reach, area.x1 + reach, area.y1 + reach},
                        levels.rectOf(level));
        const Surroundings near = read(levels, keep, level, wide, cache);
        const OwnColour own(near, keep, level);
        m_share.resize(n);
        m_a.resize(n);
        m_b.resize(n);
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x) {
                const size_t i = size_t(y - area.y0) * size_t(m_width) + size_t(x - area.x0);
                if (owner[i] != mark)
                    continue;
                const auto [share, light] = own.at({x - wide.x0, y - wide.y0});
                m_share[i] = share;
                if (share <= 0)
                    continue;
                const cv::Vec2f colour = chromaOf(levels.colour().toLms, light);
                m_a[i] = colour[0];
                m_b[i] = colour[1];
            }
    }
}

void Spill::apply(int row, int n, float *a, float *b) const
{
    const size_t first = size_t(row) * size_t(m_width);
    for (int i = 0; i < n; ++i) {
        const size_t at = first + size_t(i);
        a[i] += m_share[at] * (m_a[at] - a[i]);
        b[i] += m_share[at] * (m_b[at] - b[i]);
    }
}

} // namespace buttonhole
