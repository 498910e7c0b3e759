#include "segment/cut.h"

#include <opencv2/imgproc/detail/gcgraph.hpp>

#include <array>
#include <vector>

namespace buttonhole
{

namespace
{

/// Neighbours: the first half comes after a pixel in the order of rows.
const std::array<cv::Point, 8> kNeighbours{
    {{1, 0}, {0, 1}, {1, 1}, {-1, 1}, {-1, 0}, {0, -1}, {-1, -1}, {1, -1}}};

float squaredDistance(const cv::Vec3f &p, const cv::Vec3f &q)
{
    const cv::Vec3f d = p - q;
    return d.dot(d);
}

/// 1 / (2 mean squared difference): what counts as an edge in this part of this photo.
float contrastScale(const cv::Mat3f &lab, const std::vector<cv::Point> &open)
{
    double sum = 0;
    double count = 0;
    for (const cv::Point &p : open) {
        if (p.x + 1 >= lab.cols || p.y + 1 >= lab.rows)
            continue;
        sum += double(squaredDistance(lab(p), lab(p.y, p.x + 1)));
        sum += double(squaredDistance(lab(p), lab(p.y + 1, p.x)));
        count += 2;
    }
    constexpr double kLeast = 2e-5; // noise is no edge
    return float(1 / (2 * std::max(kLeast, count > 0 ? sum / count : 1)));
}

} // namespace

void cutGraph(const cv::Mat3f &lab, const cv::Mat1f &evidence, cv::Mat1b &labels,
              const cv::Mat1b &open, float tie)
{
    std::vector<cv::Point> nodes; // the index is the graph's
    cv::findNonZero(open, nodes);
    if (nodes.empty())
        return;
    const float scale = contrastScale(lab, nodes);
    cv::detail::GCGraph<float> graph{unsigned(nodes.size()), unsigned(nodes.size()) * 8};
    cv::Mat1i indices(lab.size(), -1);
    for (size_t i = 0; i < nodes.size(); ++i) {
        indices(nodes[i]) = graph.addVtx();
        const float logit = evidence(nodes[i]);
        graph.addTermWeights(int(i), std::max(logit, 0.0F), std::max(-logit, 0.0F));
    }
    bool hasEdges = false;
    const cv::Rect all({}, lab.size());
    for (size_t i = 0; i < nodes.size(); ++i)
        for (size_t k = 0; k < kNeighbours.size(); ++k) {
            const cv::Point q = nodes[i] + kNeighbours[k];
            const bool comesAfter = k < kNeighbours.size() / 2;
            if (!all.contains(q) || (!comesAfter && indices(q) >= 0))
                continue;
            const bool isDiagonal = kNeighbours[k].x != 0 && kNeighbours[k].y != 0;
            const float unlike = squaredDistance(lab(nodes[i]), lab(q));
            const float weight =
                tie / (isDiagonal ? 1.41421356F : 1.0F) * std::exp(-unlike * scale) + tie * 0.02F;
            if (indices(q) >= 0) {
                graph.addEdges(int(i), indices(q), weight, weight);
                hasEdges = true;
            } else {
                const bool inside = labels(q) != 0;
                graph.addTermWeights(int(i), inside ? weight : 0, inside ? 0 : weight);
            }
        }
    if (hasEdges)
        graph.maxFlow(); // which asserts that there are some
    for (size_t i = 0; i < nodes.size(); ++i)
        labels(nodes[i]) = graph.inSourceSegment(int(i)) ? 255 : 0;
}

} // namespace buttonhole
