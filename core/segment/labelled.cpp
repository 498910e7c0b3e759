#include "segment/labelled.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

cv::Mat1b Labelled::over(const Rect &other, cv::Size size) const
{
    const double sx = double(labels.cols) / area.width(); // labels to a px of the photo
    const double sy = double(labels.rows) / area.height();
    const double stepX = sx * other.width() / size.width; // of these labels to one of the others
    const double stepY = sy * other.height() / size.height;
    const double firstX = (other.x0 - area.x0) * sx + 0.5 * stepX - 0.5;
    const double firstY = (other.y0 - area.y0) * sy + 0.5 * stepY - 0.5;
    cv::Mat1b out;
    cv::warpAffine(labels, out, cv::Matx23d(stepX, 0, firstX, 0, stepY, firstY), size,
                   cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
    return cv::Mat1b(out > 127);
}

Labelled Labelled::enlarged(const Rect &other, int longEdge) const
{
    const double scale = double(longEdge) / std::max(other.width(), other.height());
    const auto sized = [&](int px) { return std::max(1, int(std::lround(px * scale))); };
    return {other, over(other, {sized(other.width()), sized(other.height())})};
}

Rect Labelled::inPhoto(const cv::Rect &part) const
{
    const auto x = [&](int v) { return area.x0 + v * area.width() / labels.cols; };
    const auto y = [&](int v) { return area.y0 + v * area.height() / labels.rows; };
    return {x(part.x), y(part.y), x(part.br().x), y(part.br().y)};
}

} // namespace buttonhole
