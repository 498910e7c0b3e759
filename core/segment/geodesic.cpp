#include "segment/geodesic.h"

#include <algorithm>
#include <array>
#include <vector>

namespace buttonhole
{

namespace
{

struct Sweep {
    const cv::Mat3f &lab;
    cv::Mat1f &out;
    float ignored;
    float perPx;

    float step(const cv::Vec3f &p, const cv::Vec3f &q) const
    {
        const cv::Vec3f d = p - q;
        return std::max(0.0F, std::sqrt(d.dot(d)) - ignored);
    }

    /// One pass: rows in the order `down`, pixels in the order `right`; ways come from the row
    /// before and from the pixel before.
    bool pass(bool down, bool right) const
    {
        constexpr float kDiagonal = 1.41421356F;
        constexpr float kMatters = 0.002F; // OKLab: less would be another round for nothing
        bool changed = false;
        const int dy = down ? -1 : 1;
        const int dx = right ? -1 : 1;
        for (int j = 0; j < lab.rows; ++j) {
            const int y = down ? j : lab.rows - 1 - j;
            const bool hasRow = j > 0;
            for (int i = 0; i < lab.cols; ++i) {
                const int x = right ? i : lab.cols - 1 - i;
                const cv::Vec3f &p = lab(y, x);
                float best = out(y, x);
                const auto look = [&](int fromY, int fromX, float length) {
                    const float start = out(fromY, fromX) + perPx * length;
                    if (start < best)
                        best = std::min(best, start + step(p, lab(fromY, fromX)) * length);
                };
                if (i > 0)
                    look(y, x + dx, 1);
                if (hasRow) {
                    look(y + dy, x, 1);
                    if (i > 0)
                        look(y + dy, x + dx, kDiagonal);
                    if (i + 1 < lab.cols)
                        look(y + dy, x - dx, kDiagonal);
                }
                if (best < out(y, x)) {
                    changed = changed || best < out(y, x) - kMatters;
                    out(y, x) = best;
                }
            }
        }
        return changed;
    }
};

} // namespace

cv::Mat1f geodesicDistance(const cv::Mat3f &lab, cv::Mat1f seeds, float ignored, float perPx)
{
    const Sweep sweep{lab, seeds, ignored, perPx};
    constexpr int kMostRounds = 4; // winding ways need more than one
    for (int round = 0; round < kMostRounds; ++round) {
        bool changed = false;
        for (const bool down : {true, false})
            for (const bool right : {true, false})
                changed = sweep.pass(down, right) || changed;
        if (!changed)
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
                    const auto differs = int(cv::norm(lab(q) - colour) / kPerLevel);
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
