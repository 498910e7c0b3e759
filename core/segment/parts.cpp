#include "segment/parts.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cstdint>
#include <vector>

namespace buttonhole
{

namespace
{

struct Parts {
    cv::Mat1i of; ///< which part each pixel belongs to; 0: none
    std::vector<int> areas;

    Parts(const cv::Mat1b &mask, int connectivity)
    {
        areas.resize(size_t(cv::connectedComponents(mask, of, connectivity, CV_32S)));
        for (const int part : of)
            areas[size_t(part)] += part > 0;
    }
    cv::Mat1b chosen(const std::vector<uint8_t> &which) const
    {
        cv::Mat1b out(of.size());
        std::transform(of.begin(), of.end(), out.begin(), [&](int part) {
            return part > 0 && which[size_t(part)] ? uint8_t(255) : uint8_t(0);
        });
        return out;
    }
};

} // namespace

cv::Mat1b partsTouching(const cv::Mat1b &mask, const cv::Mat1b &seeds, int connectivity)
{
    const Parts parts(mask, connectivity);
    std::vector<uint8_t> touch(parts.areas.size(), 0);
    for (int y = 0; y < mask.rows; ++y)
        for (int x = 0; x < mask.cols; ++x)
            if (seeds(y, x))
                touch[size_t(parts.of(y, x))] = 1;
    return parts.chosen(touch);
}

cv::Mat1b partsBelow(const cv::Mat1b &mask, double areaPx, int connectivity)
{
    const Parts parts(mask, connectivity);
    std::vector<uint8_t> below;
    for (const int area : parts.areas)
        below.push_back(area < areaPx);
    return parts.chosen(below);
}

cv::Mat1b largeParts(const cv::Mat1b &mask, double share, int connectivity)
{
    const Parts parts(mask, connectivity);
    const double least = share * *std::max_element(parts.areas.begin(), parts.areas.end());
    std::vector<uint8_t> large;
    for (const int area : parts.areas)
        large.push_back(area > least);
    return parts.chosen(large);
}

} // namespace buttonhole
