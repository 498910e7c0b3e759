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

/// OKLab's a and b of the photo, and the mask of one keep, over a part of a level.
struct Surroundings {
    cv::Mat1f covered; ///< 0..1
    cv::Mat1f a;
    cv::Mat1f b;
};

Surroundings read(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                  StageCache *cache)
{
    const cv::Size size(area.width(), area.height());
    Surroundings out{cv::Mat1f(size), cv::Mat1f(size), cv::Mat1f(size)};
    std::vector<uint16_t> mask(area.area());
    keepMaskOver(levels, keep, level, area, mask.data(), cache);
    const float full = std::max(1.0F, 65535 * keep.strength);
    std::transform(mask.begin(), mask.end(), out.covered.begin(),
                   [&](uint16_t v) { return float(v) / full; });
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

/// The mean colour round each pixel, of what has weight.
struct MeanColour {
    cv::Mat1f weight;
    cv::Mat1f a;
    cv::Mat1f b;
};

/// @param shares -0.5..0.5: what is above 0 counts, and hardly unless it is near 0.5
/// @param reach  px of the level
MeanColour meanColour(const Surroundings &of, const cv::Mat1f &shares, int level, int reach)
{
    constexpr int kNearPx = 3; // of the photo: counts far more, where there is something
    constexpr double kNearer = 20;
    cv::Mat1f weight;
    cv::pow(cv::max(shares, 0), 4, weight);
    const int near = std::max(1, kNearPx >> level);
    const auto gather = [&](const cv::Mat1f &in) {
        return cv::Mat1f(kNearer * twiceBoxed(in, near) + twiceBoxed(in, reach));
    };
    MeanColour out{gather(weight), gather(weight.mul(of.a)), gather(weight.mul(of.b))};
    const cv::Mat1f divisor = cv::max(out.weight, kLeastWeight);
    out.a /= divisor;
    out.b /= divisor;
    return out;
}

} // namespace

bool Spill::isAsked(const Take &take)
{
    return std::any_of(take.keeps.begin(), take.keeps.end(),
                       [](const Keep &keep) { return keep.on && keep.spill > 0; });
}

int Spill::reachPx(const Keep &keep)
{
    constexpr float kLeast = 8;
    return int(std::max(kLeast, 2 * keep.softReachPx() + 3 * keep.featherPx));
}

Spill::Spill(const PhotoLevels &levels, const Take &take, int level, const Rect &area,
             const uint16_t *mask, const uint16_t *owner, StageCache *cache)
    : m_width(area.width())
{
    const size_t n = area.area();
    const bool isPartly =
        std::any_of(mask, mask + n, [](uint16_t v) { return v > 0 && v < 65535; });
    for (size_t k = 0; k < take.keeps.size() && isPartly; ++k) {
        const Keep &keep = take.keeps[k];
        const auto mark = uint16_t(k + 1);
        if (!keep.on || keep.spill <= 0 || std::find(owner, owner + n, mark) == owner + n)
            continue;
        const int reach = std::max(1, reachPx(keep) >> level);
        const Rect wide =
            intersected({area.x0 - reach, area.y0 - reach, area.x1 + reach, area.y1 + reach},
                        levels.rectOf(level));
        const Surroundings near = read(levels, keep, level, wide, cache);
        const MeanColour own = meanColour(near, near.covered - 0.5F, level, reach);
        const MeanColour behind = meanColour(near, 0.5F - near.covered, level, reach);
        m_share.resize(n);
        m_a.resize(n);
        m_b.resize(n);
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x) {
                const size_t i = size_t(y - area.y0) * size_t(m_width) + size_t(x - area.x0);
                const cv::Point at(x - wide.x0, y - wide.y0);
                const float covered = near.covered(at);
                if (owner[i] != mark || own.weight(at) < kLeastWeight || covered >= kPartly)
                    continue;
                m_share[i] = keep.spill * std::min(1.0F, (kPartly - covered) * 8);
                m_a[i] = own.a(at);
                m_b[i] = own.b(at);
                if (behind.weight(at) < kLeastWeight)
                    continue;
                // What the mixture of both leaves unexplained is the subject's, the more it covers.
                const float back = kUnexplained * covered;
                m_a[i] += back * (near.a(at) - covered * own.a(at) - (1 - covered) * behind.a(at));
                m_b[i] += back * (near.b(at) - covered * own.b(at) - (1 - covered) * behind.b(at));
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
