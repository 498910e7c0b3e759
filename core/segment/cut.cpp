#include "segment/cut.h"

#include <opencv2/imgproc/detail/gcgraph.hpp>

#include <array>

namespace buttonhole
{

namespace
{

constexpr std::array<std::pair<int, int>, 4> kForward{{{1, 0}, {0, 1}, {1, 1}, {-1, 1}}};

float squaredDistance(const cv::Vec3f &p, const cv::Vec3f &q)
{
    const cv::Vec3f d = p - q;
    return d.dot(d);
}

/// 1 / (2 mean squared difference): what counts as an edge in this part of this photo.
float contrastScale(const cv::Mat3f &lab, const cv::Mat1b &open)
{
    double sum = 0;
    double count = 0;
    for (int y = 0; y + 1 < lab.rows; ++y)
        for (int x = 0; x + 1 < lab.cols; ++x) {
            if (open(y, x) == 0)
                continue;
            sum += squaredDistance(lab(y, x), lab(y, x + 1));
            sum += squaredDistance(lab(y, x), lab(y + 1, x));
            count += 2;
        }
    constexpr double kLeast = 2e-5; // noise is no edge
    return float(1 / (2 * std::max(kLeast, count > 0 ? sum / count : 1)));
}

} // namespace

void cutGraph(const cv::Mat3f &lab, const cv::Mat1f &evidence, cv::Mat1b &labels,
              const cv::Mat1b &open, float tie)
{
    const int count = cv::countNonZero(open);
    if (count == 0)
        return;
    const float scale = contrastScale(lab, open);
    cv::detail::GCGraph<float> graph{unsigned(count), unsigned(count) * 8};
    cv::Mat1i nodes(lab.size(), -1);
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            if (open(y, x)) {
                nodes(y, x) = graph.addVtx();
                const float logit = evidence(y, x);
                graph.addTermWeights(nodes(y, x), std::max(logit, 0.0F), std::max(-logit, 0.0F));
            }
    bool hasEdges = false;
    const cv::Rect all({}, lab.size());
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            for (const auto &[dx, dy] : kForward) {
                const cv::Point q(x + dx, y + dy);
                if (!all.contains(q) || (open(y, x) == 0 && open(q) == 0))
                    continue;
                const float length = dx != 0 && dy != 0 ? 1.41421356F : 1.0F;
                const float weight =
                    tie / length * std::exp(-squaredDistance(lab(y, x), lab(q)) * scale) +
                    tie * 0.02F;
                const int i = nodes(y, x);
                const int j = nodes(q);
                if (i >= 0 && j >= 0) {
                    graph.addEdges(i, j, weight, weight);
                    hasEdges = true;
                    continue;
                }
                const bool inside = (i >= 0 ? labels(q) : labels(y, x)) != 0;
                graph.addTermWeights(std::max(i, j), inside ? weight : 0, inside ? 0 : weight);
            }
    if (hasEdges)
        graph.maxFlow(); // which asserts that there are some
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            if (nodes(y, x) >= 0)
                labels(y, x) = graph.inSourceSegment(nodes(y, x)) ? 255 : 0;
}

} // namespace buttonhole
