#include "segment/edge_path.h"

#include "segment/look_frame.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kRadius = 512;      ///< px of a level that are looked over to every side
constexpr double kWithinPx = 0.8; ///< of the level: how far a simplified line may stray

/// The photo's colours along a line: rows from its one end to the other, columns across it, its own
/// in the middle.
cv::Mat3f stripAlong(const cv::Mat3f &lab, const cv::Point2f &from, const cv::Point2f &along,
                     int rows, int half)
{
    const cv::Point2f across = cv::Point2f(-along.y, along.x) / std::hypot(along.x, along.y);
    cv::Mat2f places(rows, 2 * half + 1);
    for (int y = 0; y < places.rows; ++y)
        for (int x = 0; x < places.cols; ++x) {
            const cv::Point2f p = from + float(y) * along + float(x - half) * across;
            places(y, x) = {p.x, p.y};
        }
    cv::Mat3f strip;
    cv::remap(lab, strip, places, cv::noArray(), cv::INTER_LINEAR, cv::BORDER_REPLICATE);
    return strip;
}

/// How strongly colours change across the line, 1 where it is among the strongest.
cv::Mat1f strengthAcross(const cv::Mat3f &strip)
{
    constexpr float kColour = 4; // a and b against lightness, squared
    constexpr double kStrong = 0.97;
    constexpr float kMostCost = 1.5F;
    cv::Mat3f calm;
    cv::GaussianBlur(strip, calm, {0, 0}, 1, 2);
    cv::Mat3f slope;
    cv::Sobel(calm, slope, CV_32F, 1, 0, 3, 0.25);
    cv::Mat1f out(strip.size());
    std::transform(slope.begin(), slope.end(), out.begin(), [](const cv::Vec3f &d) {
        return std::sqrt(d[0] * d[0] + kColour * (d[1] * d[1] + d[2] * d[2]));
    });
    std::vector<float> sorted(out.begin(), out.end());
    const auto at = sorted.begin() + ptrdiff_t(double(sorted.size() - 1) * kStrong);
    std::nth_element(sorted.begin(), at, sorted.end());
    return cv::Mat1f(cv::min(out / (*at + 1e-4F), kMostCost));
}

/// The best way through a strip from the middle of its first row to about the middle of its last: a
/// column in each row.
/// @param wide px, how far aside is far
/// @param slack px, how far from the middle it may end
std::vector<int> wayThrough(const cv::Mat1f &strength, float wide, int slack)
{
    constexpr int kMostStep = 2;
    constexpr float kPerStep = 1;
    constexpr float kAside = 3; // as far from the middle as `wide`
    constexpr float kSteep = 40;
    constexpr float kMissed = 6; // `slack` from the middle at the end
    const int half = strength.cols / 2;
    cv::Mat1f cost(strength.size(), 1e9F);
    cv::Mat1b came(strength.size(), uint8_t(0));
    cost(0, half) = 0;
    for (int y = 1; y < cost.rows; ++y)
        for (int x = 0; x < cost.cols; ++x) {
            for (int step = std::max(-kMostStep, -x);
                 step <= std::min(kMostStep, cost.cols - 1 - x); ++step) {
                const float through = cost(y - 1, x + step) + kPerStep * float(std::abs(step));
                if (through < cost(y, x)) {
                    cost(y, x) = through;
                    came(y, x) = uint8_t(step + kMostStep);
                }
            }
            const float aside = float(x - half) / wide;
            const float s = strength(y, x);
            cost(y, x) += 1 / (1 + kSteep * s * s) + kAside * aside * aside;
        }
    std::vector<int> way(size_t(cost.rows), half);
    float least = cost(cost.rows - 1, half);
    for (int x = std::max(0, half - slack); x <= std::min(cost.cols - 1, half + slack); ++x) {
        const float missed = float(x - half) / float(std::max(1, slack));
        const float all = cost(cost.rows - 1, x) + kMissed * missed * missed;
        if (all < least) {
            least = all;
            way.back() = x;
        }
    }
    for (int y = cost.rows - 1; y > 0; --y)
        way[size_t(y) - 1] = way[size_t(y)] + int(came(y, way[size_t(y)])) - kMostStep;
    return way;
}

} // namespace

/// What one level shows round the first place.
struct EdgePath::Map {
    Rect area; ///< px of the level
    int level = 0;
    cv::Mat3f lab;

    cv::Point2f placeOf(const PhotoPoint &at) const
    {
        const auto px = float(1 << level);
        return {at.x / px - float(area.x0) - 0.5F, at.y / px - float(area.y0) - 0.5F};
    }
    PhotoPoint pointOf(const cv::Point2f &at) const
    {
        const auto px = float(1 << level);
        return {(at.x + float(area.x0) + 0.5F) * px, (at.y + float(area.y0) + 0.5F) * px};
    }
};

EdgePath::EdgePath(const PhotoLevels &levels, const PhotoPoint &from, int level) : m_from(from)
{
    level = std::clamp(level, 0, levels.count() - 1);
    for (int each = std::max(0, level - 1); each <= level; ++each) {
        auto map = std::make_unique<Map>();
        map->level = each;
        const Rect all = levels.rectOf(each);
        const int x = std::clamp(int(from.x) >> each, 0, all.x1 - 1);
        const int y = std::clamp(int(from.y) >> each, 0, all.y1 - 1);
        map->area = intersected(all, {x - kRadius, y - kRadius, x + kRadius + 1, y + kRadius + 1});
        map->lab = readLab(levels, each, map->area);
        m_maps.push_back(std::move(map));
    }
}

EdgePath::~EdgePath() = default;

std::vector<PhotoPoint> EdgePath::to(const PhotoPoint &at, float slack) const
{
    constexpr float kLeastPx = 4;  // shorter is straight
    constexpr float kWide = 0.35F; // of the length, to either side
    constexpr int kMostHalf = 60;
    const auto reaches = [&](const auto &map) {
        const cv::Point2f way = map->placeOf(at) - map->placeOf(m_from);
        return std::max(std::abs(way.x), std::abs(way.y)) <= kRadius;
    };
    const auto finest = std::find_if(m_maps.begin(), m_maps.end(), reaches);
    if (finest == m_maps.end())
        return {at};
    const Map &map = **finest;
    const cv::Point2f from = map.placeOf(m_from);
    const cv::Point2f way = map.placeOf(at) - from;
    const float length = std::hypot(way.x, way.y);
    if (length < kLeastPx)
        return {at};
    const int rows = int(length) + 1;
    const int half = std::clamp(int(kWide * length), int(kLeastPx), kMostHalf);
    const cv::Point2f along = way / float(rows - 1);
    const cv::Point2f across = cv::Point2f(-way.y, way.x) / length;
    const std::vector<int> columns =
        wayThrough(strengthAcross(stripAlong(map.lab, from, along, rows, half)), kWide * length,
                   int(slack) >> map.level);
    std::vector<cv::Point2f> line;
    line.reserve(size_t(rows));
    for (int y = 0; y < rows; ++y)
        line.push_back(from + float(y) * along + float(columns[size_t(y)] - half) * across);
    std::vector<cv::Point2f> fewer;
    cv::approxPolyDP(line, fewer, kWithinPx, false);
    std::vector<PhotoPoint> out;
    for (size_t i = 1; i + 1 < fewer.size(); ++i)
        out.push_back(map.pointOf(fewer[i]));
    // Where it ends in the middle, it is as it was put, to the last bit.
    out.push_back(columns.back() == half ? at : map.pointOf(line.back()));
    return out;
}

} // namespace buttonhole
