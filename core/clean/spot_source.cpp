#include "clean/spot_source.h"

#include "io/lab_row.h"

#include <opencv2/core.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr float kInside = 1.3F; ///< radii: what is replaced
constexpr float kRing = 2.0F;

/// Lightness and colour of a part of a level.
cv::Mat3f labOf(const PhotoLevels &levels, int level, const Rect &area)
{
    cv::Mat3f out(area.height(), area.width());
    LabRow row;
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; x += kRowRun) {
            const int n = std::min(kRowRun, out.cols - x);
            row.read(levels, level, area.x0 + x, area.y0 + y, n);
            for (int i = 0; i < n; ++i)
                out(y, x + i) = {row.L[i], row.a[i], row.b[i]};
        }
    return out;
}

} // namespace

SpotSource findSpotSource(const PhotoLevels &levels, const Spot &spot,
                          const std::vector<Spot> &others)
{
    // At a size at which the spot is some ten px wide.
    constexpr float kSeenRadius = 8;
    int level = 0;
    while (level + 1 < levels.count() && spot.radiusPx > kSeenRadius * float(2 << level))
        ++level;
    const float scale = 1.0F / float(1 << level);
    const float radius = std::max(1.0F, spot.radiusPx * scale);
    const int ring = int(std::ceil(kRing * radius)) + 1;
    const int cx = int(spot.x * scale);
    const int cy = int(spot.y * scale);
    constexpr float kFarthest = 6; // radii
    const int reach = ring + int(std::ceil(kFarthest * radius)) + 2;
    const Rect all = levels.rectOf(level);
    const Rect area = intersected({cx - reach, cy - reach, cx + reach + 1, cy + reach + 1}, all);
    if (area.isEmpty())
        return {};
    const cv::Mat3f lab = labOf(levels, level, area);
    const auto isIn = [&](int x, int y) {
        return x - ring >= area.x0 && y - ring >= area.y0 && x + ring < area.x1 &&
               y + ring < area.y1;
    };
    const auto cost = [&](int dx, int dy) {
        double ringSum = 0, ringSquares = 0, rings = 0, inside = 0, insideSquares = 0, insides = 0;
        for (int j = -ring; j <= ring; ++j)
            for (int i = -ring; i <= ring; ++i) {
                const float r = std::hypot(float(i), float(j)) / radius;
                const int x = cx + i - area.x0;
                const int y = cy + j - area.y0;
                if (r > kRing || x + dx < 0 || y + dy < 0 || x + dx >= lab.cols ||
                    y + dy >= lab.rows)
                    continue;
                const cv::Vec3f there = lab(y + dy, x + dx);
                if (r < kInside) {
                    inside += double(there[0]), insideSquares += double(there[0] * there[0]);
                    insides += 1;
                } else if (x >= 0 && y >= 0 && x < lab.cols && y < lab.rows) {
                    const cv::Vec3f d = there - lab(y, x);
                    ringSum += double(d[0]);
                    ringSquares += double(d.dot(d));
                    rings += 1;
                }
            }
        if (insides == 0 || rings == 0)
            return 1e9;
        // Another brightness is taken out when it is mended; another texture cannot be.
        const double unlike = ringSquares / rings - 0.8 * std::pow(ringSum / rings, 2);
        const double busy = insideSquares / insides - std::pow(inside / insides, 2);
        return unlike + 0.5 * busy + 1e-6 * (dx * dx + dy * dy) / double(radius * radius);
    };
    SpotSource best;
    double least = 1e18;
    constexpr int kWays = 16;
    for (const float far : {2.8F, 3.6F, 4.8F, kFarthest})
        for (int way = 0; way < kWays; ++way) {
            const double angle = 2 * CV_PI * way / kWays;
            const int dx = int(std::lround(double(far * radius) * std::cos(angle)));
            const int dy = int(std::lround(double(far * radius) * std::sin(angle)));
            const bool isTaken = std::any_of(others.begin(), others.end(), [&](const Spot &other) {
                return std::hypot(other.x * scale - float(cx + dx),
                                  other.y * scale - float(cy + dy)) <
                       kInside * (radius + other.radiusPx * scale);
            });
            if (!isIn(cx + dx, cy + dy) || isTaken)
                continue;
            if (const double now = cost(dx, dy); now < least) {
                least = now;
                best = {dx << level, dy << level};
            }
        }
    if (best.dx == 0 && best.dy == 0) // at a corner: towards the middle
        best.dx = int(spot.x) < levels.photo().width / 2 ? int(4 * spot.radiusPx) + 2
                                                         : -int(4 * spot.radiusPx) - 2;
    return best;
}

} // namespace buttonhole
