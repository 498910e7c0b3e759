#include "render/spill.h"

#include "io/lab_run.h"
#include "render/mask_stage.h"

#include <opencv2/imgproc.hpp>

namespace buttonhole
{

namespace
{

constexpr float kPartly = 0.97F; ///< less than that much coverage has been spilt into
constexpr float kLeastWeight = 1e-6F;
constexpr float kUnexplained = 0.5F; ///< so much of it is trusted
constexpr int kMarkReachPx = 128;    ///< of the photo: so far a marked place looks for colour

/// OKLab's a and b of the photo, and the mask of one keep, over a part of a level.
struct Surroundings {
    cv::Mat1f covered; ///< 0..1
    cv::Mat1f marked;  ///< 0..1, by the spill brush; empty: nothing
    cv::Mat1f a;
    cv::Mat1f b;
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
    Surroundings out{{}, {}, cv::Mat1f(size), cv::Mat1f(size)};
    std::vector<uint16_t> mask(area.area());
    keepMaskOver(levels, keep, level, area, mask.data(), cache);
    out.covered = shares(mask, size, std::max(1.0F, 65535 * keep.strength));
    if (markedPart(levels, keep, Sign::Spill, level, area, mask.data()))
        out.marked = shares(mask, size, 65535);
    LabRun run;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; x += kRowRun) {
            const int n = std::min(kRowRun, size.width - x);
            run.read(levels, level, area.x0 + x, area.y0 + y, n);
            std::copy_n(run.a, n, out.a[y] + x);
            std::copy_n(run.b, n, out.b[y] + x);
        }
    return out;
}

/// Twice a box: what is nearer counts more.
cv::Mat1f twiceBoxed(const cv::Mat1f &in, int reach)
{
    cv::Mat1f out;
    const cv::Size size(reach | 1, reach | 1);
    cv::boxFilter(in, out, CV_32F, size, {-1, -1}, true, cv::BORDER_CONSTANT);
    cv::boxFilter(out, out, CV_32F, size, {-1, -1}, true, cv::BORDER_CONSTANT);
    return out;
}

/// What has weight round each pixel, summed.
struct ColourSum {
    cv::Mat1f weight;
    cv::Mat1f a;
    cv::Mat1f b;

    bool isSomething(const cv::Point &at) const { return weight(at) >= kLeastWeight; }
    cv::Vec2f mean(const cv::Point &at) const
    {
        return cv::Vec2f(a(at), b(at)) / std::max(weight(at), kLeastWeight);
    }
};

ColourSum gathered(const Surroundings &of, const cv::Mat1f &weight, int reach)
{
    return {twiceBoxed(weight, reach), twiceBoxed(weight.mul(of.a), reach),
            twiceBoxed(weight.mul(of.b), reach)};
}

/// What is nearer counts far more, where there is something.
ColourSum together(const ColourSum &near, const ColourSum &far)
{
    constexpr double kNearer = 20;
    return {kNearer * near.weight + far.weight, kNearer * near.a + far.a, kNearer * near.b + far.b};
}

/// Whose colours count: what is covered (or not) by more than a half, and hardly unless nearly
/// fully; and not what is marked.
cv::Mat1f weightOf(const Surroundings &of, bool isCovered)
{
    cv::Mat1f out;
    cv::pow(cv::max(isCovered ? of.covered - 0.5F : 0.5F - of.covered, 0), 4, out);
    return of.marked.empty() ? out : cv::Mat1f(out.mul(1 - of.marked));
}

/// The colour of one keep, as far as it was spilt into, over the surroundings of an area.
class OwnColour
{
public:
    OwnColour(const Surroundings &near, const Keep &keep, int level)
        : m_near(near), m_edges(keep.spill), m_marks(keep.spillShare())
    {
        constexpr int kNearPx = 3; // of the photo
        const auto px = [&](int ofPhoto) { return std::max(1, ofPhoto >> level); };
        const int reach = px(Spill::edgeReachPx(keep));
        const cv::Mat1f own = weightOf(near, true);
        m_own = together(gathered(near, own, px(kNearPx)), gathered(near, own, reach));
        if (!near.marked.empty())
            m_farther = together(m_own, gathered(near, own, px(kMarkReachPx)));
        const cv::Mat1f behind = weightOf(near, false);
        m_behind = together(gathered(near, behind, px(kNearPx)), gathered(near, behind, reach));
    }

    struct Answer {
        float share = 0; ///< 0..1 of the way
        cv::Vec2f colour;
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
        cv::Vec2f colour = m_own.mean(p);
        if (byEdge > 0 && m_behind.isSomething(p)) {
            // What the mixture of both leaves unexplained is the subject's, the more it covers.
            const cv::Vec2f mixture = covered * colour + (1 - covered) * m_behind.mean(p);
            const cv::Vec2f is(m_near.a(p), m_near.b(p));
            colour += kUnexplained * covered * (is - mixture);
        }
        return {byEdge, colour};
    }

private:
    const Surroundings &m_near;
    const float m_edges;
    const float m_marks;
    ColourSum m_own;
    ColourSum m_farther; ///< for what is marked, whose neighbours may be, too
    ColourSum m_behind;
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
    constexpr float kLeast = 8;
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
                const auto [share, colour] = own.at({x - wide.x0, y - wide.y0});
                m_share[i] = share;
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
