#include "segment/edge_path.h"

#include "segment/frame.h"

#include <opencv2/imgproc.hpp>
#include <opencv2/imgproc/segmentation.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kRadius = 320;      ///< px of the level that are looked over to every side
constexpr double kWithinPx = 0.8; ///< of the level: how far a simplified line may stray

/// OKLab in three bytes, colour stretched: edges between hues of one lightness count as well.
cv::Mat3b bytesOf(const cv::Mat3f &lab)
{
    cv::Mat3b out(lab.size());
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x) {
            const cv::Vec3f &c = lab(y, x);
            out(y, x) = {cv::saturate_cast<uint8_t>(c[0] * 255),
                         cv::saturate_cast<uint8_t>(128 + c[1] * 400),
                         cv::saturate_cast<uint8_t>(128 + c[2] * 400)};
        }
    return out;
}

} // namespace

struct EdgePath::Map {
    Rect area; ///< px of the level
    int level = 0;
    cv::segmentation::IntelligentScissorsMB scissors;

    cv::Point placeOf(const PhotoPoint &at) const
    {
        const auto in = [this](float v, int least, int most) {
            return std::clamp(int(std::floor(v / float(1 << level))), least, most - 1) - least;
        };
        return {in(at.x, area.x0, area.x1), in(at.y, area.y0, area.y1)};
    }
    PhotoPoint pointOf(const cv::Point2f &at) const
    {
        const auto px = float(1 << level);
        return {(at.x + float(area.x0) + 0.5F) * px, (at.y + float(area.y0) + 0.5F) * px};
    }
};

EdgePath::EdgePath(const PhotoLevels &levels, const PhotoPoint &from, int level)
    : m_from(from), m_map(std::make_unique<Map>())
{
    m_map->level = std::clamp(level, 0, levels.count() - 1);
    const Rect all = levels.rectOf(m_map->level);
    const int x = std::clamp(int(from.x) >> m_map->level, 0, all.x1 - 1);
    const int y = std::clamp(int(from.y) >> m_map->level, 0, all.y1 - 1);
    m_map->area = intersected(all, {x - kRadius, y - kRadius, x + kRadius + 1, y + kRadius + 1});
    m_map->scissors.setEdgeFeatureCannyParameters(24, 80).setGradientMagnitudeMaxLimit(200);
    m_map->scissors.applyImage(bytesOf(readLab(levels, m_map->level, m_map->area)));
    m_map->scissors.buildMap(m_map->placeOf(from));
}

EdgePath::~EdgePath() = default;

std::vector<PhotoPoint> EdgePath::to(const PhotoPoint &at) const
{
    std::vector<cv::Point> line;
    m_map->scissors.getContour(m_map->placeOf(at), line);
    std::vector<cv::Point> fewer;
    if (line.size() > 2)
        cv::approxPolyDP(line, fewer, kWithinPx, false);
    std::vector<PhotoPoint> out;
    for (size_t i = 1; i + 1 < fewer.size(); ++i) // both ends are where they were put
        out.push_back(m_map->pointOf(fewer[i]));
    out.push_back(at);
    return out;
}

} // namespace buttonhole
