#include "render/spill.h"

#include "colour/oklab.h"
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

cv::Mat1f coveredPart(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                      StageCache *cache)
{
    std::vector<uint16_t> mask(area.area());
    keepMaskOver(levels, keep, level, area, mask.data(), cache);
    return shares(mask, {area.width(), area.height()}, std::max(1.0F, 65535 * keep.strength));
}

cv::Mat1f markedShares(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area)
{
    std::vector<uint16_t> mask(area.area());
    if (!markedPart(levels, keep, Sign::Spill, level, area, mask.data()))
        return {};
    return shares(mask, {area.width(), area.height()}, 65535);
}

cv::Mat3f toMat(const LightTile &tile)
{
    const Rect &area = tile.area();
    cv::Mat3f out(area.height(), area.width());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x)
            for (int c = 0; c < 3; ++c)
                out(y, x)[c] = *tile.at(c, area.x0 + x, area.y0 + y);
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

/// What becomes of one pixel: OKLab's a and b are pulled towards these.
struct Pull {
    bool isPartOfIt = false; ///< else its light stays bit for bit
    float share = 0;         ///< 0..1 of the way
    cv::Vec2f chroma;
};

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
        const int reach = px(spillEdgeReachPx(keep));
        const cv::Mat4f own = weighted(near, true);
        m_own = sumRound(own, {closest, close, reach});
        if (!near.marked.empty())
            m_farther = sumRound(own, {closest, close, reach, px(kMarkReachPx)});
        m_behind = sumRound(weighted(near, false), {closest, close, reach});
    }

    Pull pullAt(const cv::Point &p, const std::array<float, 9> &toLms) const
    {
        const float covered = m_near.covered(p);
        if (covered <= 0)
            return {};
        const auto [share, light] = at(p);
        // All that is partly covered goes by way of OKLab, pulled or not.
        return {share > 0 || covered<1, share, share> 0 ? chromaOf(toLms, light) : cv::Vec2f()};
    }

private:
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

    const Surroundings &m_near;
    const float m_edges;
    const float m_marks;
    LightSum m_own;
    LightSum m_farther; ///< for what is marked, whose neighbours may be, too
    LightSum m_behind;
};

void pullRow(const LightSpace &space, const Pull *pulls, int n, float *r, float *g, float *b)
{
    alignas(64) float lab[3][kRowRun + 64];
    std::copy_n(r, n, lab[0]);
    std::copy_n(g, n, lab[1]);
    std::copy_n(b, n, lab[2]);
    labRow(space.toLms.data(), n, lab[0], lab[1], lab[2]);
    for (int i = 0; i < n; ++i) {
        lab[1][i] += pulls[i].share * (pulls[i].chroma[0] - lab[1][i]);
        lab[2][i] += pulls[i].share * (pulls[i].chroma[1] - lab[2][i]);
    }
    linearOfLabRow(space.fromLms.data(), n, lab[0], lab[1], lab[2]);
    for (int i = 0; i < n; ++i)
        if (pulls[i].isPartOfIt) {
            r[i] = lab[0][i];
            g[i] = lab[1][i];
            b[i] = lab[2][i];
        }
}

bool isAny(const cv::Mat1f &values, float least, float most)
{
    return std::any_of(values.begin(), values.end(),
                       [&](float v) { return v > least && v < most; });
}

} // namespace

int spillEdgeReachPx(const Keep &keep)
{
    constexpr float kLeast = 24;
    return int(std::max(kLeast, 2 * keep.softBand().reach() + 3 * keep.featherPx));
}

int spillReachPx(const Keep &keep)
{
    return keep.hasMarks(Sign::Spill) ? std::max(kMarkReachPx, spillEdgeReachPx(keep))
                                      : spillEdgeReachPx(keep);
}

SpillSource::SpillSource(SourceRef before, const PhotoLevels &levels, const Keep &keep,
                         StageCache *cache)
    : ChangedSource(std::move(before)), m_levels(levels), m_keep(keep), m_cache(cache),
      m_content(joinedContent(in().content(), contentOf(keep)))
{
}

Result<void> SpillSource::fill(int level, LightTile &out, const Run &run) const
{
    const Rect area = out.area();
    const cv::Mat1f inside = markedShares(m_levels, m_keep, level, area);
    const bool hasMarks = !inside.empty() && isAny(inside, 0, 2);
    if (!hasMarks && !isAny(coveredPart(m_levels, m_keep, level, area, m_cache), 0, kPartly))
        return in().read(level, out, run);
    const int reachPx = hasMarks ? spillReachPx(m_keep) : spillEdgeReachPx(m_keep);
    const int reach = std::max(1, reachPx >> level);
    LightTile wide(intersected({area.x0 - reach, area.y0 - reach, area.x1 + reach, area.y1 + reach},
                               rectOf(level)));
    if (auto done = in().read(level, wide, run); !done)
        return done;
    const Surroundings near{coveredPart(m_levels, m_keep, level, wide.area(), m_cache),
                            markedShares(m_levels, m_keep, level, wide.area()), toMat(wide)};
    const OwnColour own(near, m_keep, level);
    out.copyFrom(wide);
    std::vector<Pull> pulls(size_t(area.width()));
    for (int y = area.y0; y < area.y1; ++y) {
        for (int x = area.x0; x < area.x1; ++x)
            pulls[size_t(x - area.x0)] =
                own.pullAt({x - wide.area().x0, y - wide.area().y0}, space().toLms);
        for (int x = area.x0; x < area.x1; x += kRowRun)
            pullRow(space(), pulls.data() + (x - area.x0), std::min(kRowRun, area.x1 - x),
                    out.at(0, x, y), out.at(1, x, y), out.at(2, x, y));
    }
    return {};
}

} // namespace buttonhole
