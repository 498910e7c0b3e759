#include "subject/level_angle.h"

#include "geometry/warp.h"
#include "subject/net_picture.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kSeenEdges[] = {1000, 1600}; ///< px of the long edge: two looks err less than one
constexpr double kLeastLength = 0.02;      ///< of the diagonal
constexpr double kMostDeg = 15;
constexpr double kSpreadDeg = 0.35; ///< of edges that agree
constexpr double kNearbyDeg = 1.5;

struct StraightEdge {
    double offDeg = 0; ///< from level or upright, -45..45
    double weight = 0; ///< its length's square, of the diagonal's
};

/// @param longEdge px at which the photo is looked at
std::vector<StraightEdge> straightEdges(const PhotoLevels &levels, const Radial &distortion,
                                        int longEdge)
{
    const Rect photo = levels.photo().rect();
    NetPicture picture = readNetPicture(levels, photo, longEdge);
    const cv::Mat3b rgb(picture.height, picture.width,
                        reinterpret_cast<cv::Vec3b *>(picture.rgb.data()));
    cv::Mat1b grey;
    cv::cvtColor(rgb, grey, cv::COLOR_RGB2GRAY);
    std::vector<cv::Vec4f> lines;
    cv::createLineSegmentDetector(cv::LSD_REFINE_ADV)->detect(grey, lines);
    const Warp lens({}, distortion, grey.cols, grey.rows);
    const double diagonal = std::hypot(grey.cols, grey.rows);
    std::vector<StraightEdge> out;
    for (const cv::Vec4f &line : lines) {
        const auto from = lens.toLevelled(double(line[0]), double(line[1]));
        const auto to = lens.toLevelled(double(line[2]), double(line[3]));
        const double length = std::hypot(to[0] - from[0], to[1] - from[1]) / diagonal;
        const double angle = std::atan2(to[1] - from[1], to[0] - from[0]) * 180 / CV_PI;
        if (length > kLeastLength)
            out.push_back({std::remainder(angle, 90), length * length});
    }
    return out;
}

/// How much of an edge speaks for an angle, 0..1.
double agreement(const StraightEdge &edge, double deg)
{
    const double off = std::remainder(edge.offDeg - deg, 90) / kSpreadDeg;
    return std::exp(-off * off / 2);
}

double votesFor(const std::vector<StraightEdge> &edges, double deg)
{
    double out = 0;
    for (const StraightEdge &edge : edges)
        out += edge.weight * agreement(edge, deg);
    return out;
}

} // namespace

std::optional<float> findLevelAngle(const PhotoLevels &levels, const Radial &distortion)
{
    std::vector<StraightEdge> edges;
    for (const int longEdge : kSeenEdges) {
        const auto seen = straightEdges(levels, distortion, longEdge);
        edges.insert(edges.end(), seen.begin(), seen.end());
    }
    constexpr double kStepDeg = 0.05;
    constexpr int kSteps = int(kMostDeg / kStepDeg);
    std::vector<double> votes;
    for (int i = -kSteps; i <= kSteps; ++i)
        votes.push_back(votesFor(edges, i * kStepDeg));
    const auto best = std::max_element(votes.begin(), votes.end());
    double at = double(best - votes.begin() - kSteps) * kStepDeg;
    // To the middle of those that agree.
    for (int round = 0; round < 3; ++round) {
        double sum = 0;
        double weight = 0;
        for (const StraightEdge &edge : edges) {
            const double w = edge.weight * agreement(edge, at);
            sum += w * std::remainder(edge.offDeg - at, 90);
            weight += w;
        }
        at += weight > 0 ? sum / weight : 0;
    }
    // They should be long, many of all, and no other angle should have nearly as many.
    double rival = 0;
    double all = 0;
    for (int i = -kSteps; i <= kSteps; ++i)
        if (std::abs(i * kStepDeg - at) > kNearbyDeg)
            rival = std::max(rival, votes[size_t(i + kSteps)]);
    for (const StraightEdge &edge : edges)
        all += edge.weight;
    constexpr double kLeastVotes = 0.12;
    constexpr double kLeastShare = 0.2;
    constexpr double kMostRival = 0.8;
    const bool isSure =
        *best >= kLeastVotes && *best >= kLeastShare * all && rival <= kMostRival * *best;
    return isSure ? std::optional(float(-at)) : std::nullopt;
}

} // namespace buttonhole
