#include "segment/growth.h"

#include "raster/parallel_tiles.h"

#include <opencv2/imgproc.hpp>

#include <array>

namespace buttonhole
{

namespace
{

constexpr int kSteps = 24;
constexpr float kMostContrast = 0.12F; ///< one hard edge must not stand for a whole border

/// Coarse bins: a few hundred pixels must fill them.
struct CoarseColours {
    static constexpr int kL = 10;
    static constexpr int kAB = 16;
    std::vector<float> bins = std::vector<float>(size_t(kL) * kAB * kAB, 0.0F);
    double count = 0;

    static int binOf(const cv::Vec3f &c)
    {
        const auto bin = [](float v, int n) { return std::clamp(int(v * float(n)), 0, n - 1); };
        return (bin(c[0], kL) * kAB + bin(c[1] * 2 + 0.5F, kAB)) * kAB + bin(c[2] * 2 + 0.5F, kAB);
    }
    void add(int bin)
    {
        ++bins[size_t(bin)];
        ++count;
    }
    /// Bhattacharyya coefficient: 1 where both hold the same colours.
    double overlap(const CoarseColours &other) const
    {
        double sum = 0;
        for (size_t i = 0; i < bins.size(); ++i)
            sum += double(std::sqrt(bins[i] * other.bins[i]));
        return count > 0 && other.count > 0 ? sum / std::sqrt(count * other.count) : 1;
    }
};

class RestSearch
{
public:
    RestSearch(const cv::Mat3f &lab, const cv::Mat1f &cost, const cv::Mat1b &settled,
               const Growth &growth)
        : m_lab(lab), m_growth(growth), m_log(std::log(growth.most / growth.least) / float(kSteps)),
          m_steps(cost.size(), uint8_t(kSteps + 1)), m_bins(cost.size())
    {
        for (int y = 0; y < cost.rows; ++y)
            for (int x = 0; x < cost.cols; ++x) {
                const bool counts = settled.empty() || settled(y, x) == 0;
                m_steps(y, x) = counts ? stepOf(cost(y, x)) : uint8_t(kSettled);
                m_bins(y, x) = CoarseColours::binOf(lab(y, x));
                if (counts && m_steps(y, x) <= kSteps)
                    ++m_areas[m_steps(y, x)];
            }
        for (size_t i = 1; i <= kSteps; ++i)
            m_areas[i] += m_areas[i - 1];
        measureBorders();
    }

    Rest find() const
    {
        constexpr double kFew = 8;
        std::vector<int> steps; ///< at which enough joins to be worth a look
        double last = 0;
        for (int i = 0; i <= kSteps; ++i) {
            const double area = m_areas[size_t(i)];
            if (area >= m_growth.largestPx || area < last * 1.02 || area < kFew)
                continue;
            last = area;
            steps.push_back(i);
        }
        std::vector<double> scores(steps.size());
        parallelFor(int(steps.size()), [&](int i) {
            scores[size_t(i)] = scoreOf(steps[size_t(i)], m_areas[size_t(steps[size_t(i)])]);
        });
        int best = 0;
        double most = -1;
        for (size_t i = 0; i < steps.size(); ++i)
            if (scores[i] > most * m_growth.eager) {
                most = std::max(most, scores[i]);
                best = steps[i];
            }
        if (m_areas[0] >= m_growth.largestPx)
            return {};
        return {m_growth.least * std::exp(m_log * (float(best) + 0.01F)), std::max(most, 0.0)};
    }

private:
    static constexpr int kSettled = 255;

    uint8_t stepOf(float cost) const
    {
        if (cost <= m_growth.least)
            return 0;
        return uint8_t(std::min(kSteps + 1.0F, std::ceil(std::log(cost / m_growth.least) / m_log)));
    }

    /// The sum of contrasts along the border of each step, and its length.
    void measureBorders()
    {
        const auto pair = [&](int y, int x, int y2, int x2) {
            const auto [i, j] = std::minmax(m_steps(y, x), m_steps(y2, x2));
            if (i == j || j == kSettled)
                return;
            const float contrast =
                std::min(float(cv::norm(m_lab(y, x) - m_lab(y2, x2))), kMostContrast);
            for (size_t k = i; k < j; ++k) {
                m_contrast[k] += double(contrast);
                ++m_length[k];
            }
        };
        for (int y = 0; y + 1 < m_steps.rows; ++y)
            for (int x = 0; x + 1 < m_steps.cols; ++x) {
                pair(y, x, y, x + 1);
                pair(y, x, y + 1, x);
            }
    }

    double scoreOf(int step, double area) const
    {
        const cv::Mat1b inside(m_steps <= step);
        const int reach = int(2 + 0.08 * std::sqrt(area));
        const cv::Rect part = grown(cv::boundingRect(inside), reach);
        cv::Mat1b wide;
        cv::dilate(inside(part), wide,
                   cv::getStructuringElement(cv::MORPH_RECT, {2 * reach + 1, 2 * reach + 1}));
        CoarseColours own;
        CoarseColours round;
        for (int y = 0; y < part.height; ++y)
            for (int x = 0; x < part.width; ++x) {
                const cv::Point p(x + part.x, y + part.y);
                if (wide(y, x) && m_steps(p) != kSettled)
                    (m_steps(p) <= step ? own : round).add(m_bins(p));
            }
        // A handful of pixels fills few bins and seems to stand out from everything.
        constexpr double kHandful = 60;
        const double stands = (1 - own.overlap(round)) * area / (area + kHandful);
        return stands + m_contrast[size_t(step)] / (m_length[size_t(step)] + 10);
    }

    cv::Rect grown(const cv::Rect &r, int by) const
    {
        return cv::Rect(r.x - by, r.y - by, r.width + 2 * by, r.height + 2 * by) &
               cv::Rect({}, m_steps.size());
    }

    const cv::Mat3f &m_lab;
    const Growth m_growth;
    const float m_log; ///< steps are even in the logarithm of the cost
    cv::Mat1b m_steps; ///< at which each pixel joins
    cv::Mat1i m_bins;
    std::array<double, kSteps + 2> m_areas{};
    std::array<double, kSteps + 2> m_contrast{};
    std::array<double, kSteps + 2> m_length{};
};

} // namespace

Rest restingCost(const cv::Mat3f &lab, const cv::Mat1f &cost, const cv::Mat1b &settled,
                 const Growth &growth)
{
    return RestSearch(lab, cost, settled, growth).find();
}

} // namespace buttonhole
