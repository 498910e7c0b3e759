#include "segment/geodesic.h"

#include <algorithm>
#include <array>
#include <vector>

namespace buttonhole
{

namespace
{

constexpr float kDiagonal = 1.41421356F;
constexpr float kMatters = 0.002F; // OKLab: less would be another round for nothing

/// Lowers `to` to at most `from` and a step. @return the greatest fall
float lower(float &to, float from)
{
    const float fall = to - from;
    to = std::min(to, from);
    return fall;
}

} // namespace

GeodesicSteps::GeodesicSteps(const cv::Mat3f &lab, float ignored, float perPx)
    : m_across(lab.size()), m_down(lab.size()), m_downRight(lab.size()), m_downLeft(lab.size())
{
    const auto step = [&](const cv::Vec3f &p, const cv::Vec3f &q, float length) {
        const cv::Vec3f d = p - q;
        return (std::max(0.0F, std::sqrt(d.dot(d)) - ignored) + perPx) * length;
    };
    for (int y = 0; y < lab.rows; ++y) {
        const cv::Vec3f *row = lab[y];
        for (int x = 0; x + 1 < lab.cols; ++x)
            m_across(y, x) = step(row[x], row[x + 1], 1);
        if (y + 1 == lab.rows)
            break;
        const cv::Vec3f *next = lab[y + 1];
        for (int x = 0; x < lab.cols; ++x) {
            m_down(y, x) = step(row[x], next[x], 1);
            if (x + 1 < lab.cols)
                m_downRight(y, x) = step(row[x], next[x + 1], kDiagonal);
            if (x > 0)
                m_downLeft(y, x) = step(row[x], next[x - 1], kDiagonal);
        }
    }
}

float GeodesicSteps::sweep(cv::Mat1f &out, bool down) const
{
    const int last = out.cols - 1;
    float fell = 0;
    for (int j = 0; j < out.rows; ++j) {
        const int y = down ? j : out.rows - 1 - j;
        float *own = out[y];
        if (j > 0) {
            const float *from = out[down ? y - 1 : y + 1];
            const int upper = down ? y - 1 : y; // row of the steps between the two
            const float *straight = m_down[upper];
            // Seen from the upper row, a way from the left goes right when walking down.
            const float *fromLeft = down ? m_downRight[upper] : m_downLeft[upper];
            const float *fromRight = down ? m_downLeft[upper] : m_downRight[upper];
            const int shift = down ? 1 : 0;
            float most = 0;
            for (int x = 0; x <= last; ++x)
                most = std::max(most, lower(own[x], from[x] + straight[x]));
            for (int x = 1; x <= last; ++x)
                most = std::max(most, lower(own[x], from[x - 1] + fromLeft[x - shift]));
            for (int x = 0; x < last; ++x)
                most = std::max(most, lower(own[x], from[x + 1] + fromRight[x + shift]));
            fell = std::max(fell, most);
        }
        const float *across = m_across[y];
        for (int x = 1; x <= last; ++x)
            fell = std::max(fell, lower(own[x], own[x - 1] + across[x - 1]));
        for (int x = last - 1; x >= 0; --x)
            fell = std::max(fell, lower(own[x], own[x + 1] + across[x]));
    }
    return fell;
}

cv::Mat1f GeodesicSteps::distance(cv::Mat1f seeds) const
{
    constexpr int kMostRounds = 4; // winding ways need more than one
    for (int round = 0; round < kMostRounds; ++round) {
        const float down = sweep(seeds, true);
        const float up = sweep(seeds, false);
        if (std::max(down, up) <= kMatters)
            break;
    }
    return seeds;
}

cv::Mat1f leastDifference(const cv::Mat3f &lab, const cv::Vec3f &colour, const cv::Mat1b &seeds)
{
    constexpr int kLevels = 256;
    constexpr float kMost = 0.4F;
    constexpr float kPerLevel = kMost / (kLevels - 1);
    std::array<std::vector<cv::Point>, kLevels> waiting;
    cv::Mat1b level(lab.size(), 255);
    const cv::Rect all({}, lab.size());
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            if (seeds(y, x)) {
                level(y, x) = 0;
                waiting[0].push_back({x, y});
            }
    for (int now = 0; now < kLevels - 1; ++now)
        while (!waiting[size_t(now)].empty()) {
            const cv::Point p = waiting[size_t(now)].back();
            waiting[size_t(now)].pop_back();
            if (level(p) < now)
                continue;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) {
                    const cv::Point q(p.x + dx, p.y + dy);
                    if (!all.contains(q) || level(q) <= now)
                        continue;
                    const auto differs = int(cv::norm(lab(q) - colour) / double(kPerLevel));
                    const int next = std::max(now, std::min(differs, kLevels - 1));
                    if (next < level(q)) {
                        level(q) = uint8_t(next);
                        waiting[size_t(next)].push_back(q);
                    }
                }
        }
    cv::Mat1f out;
    level.convertTo(out, CV_32F, kPerLevel);
    return out;
}

float textureUnder(const cv::Mat3f &lab, const cv::Mat1b &mask, float most)
{
    std::vector<float> steps;
    for (int y = 0; y + 1 < lab.rows; ++y)
        for (int x = 0; x + 1 < lab.cols; ++x)
            if (mask(y, x)) {
                steps.push_back(float(cv::norm(lab(y, x) - lab(y, x + 1))));
                steps.push_back(float(cv::norm(lab(y, x) - lab(y + 1, x))));
            }
    if (steps.empty())
        return 0;
    const auto nth = steps.begin() + ptrdiff_t(steps.size() / 2);
    std::nth_element(steps.begin(), nth, steps.end());
    return std::min(*nth, most);
}

} // namespace buttonhole
