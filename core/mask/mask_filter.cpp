#include "mask/mask_filter.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kMostDiscPx = 8;

cv::Mat matOf(MaskPart &part)
{
    return {part.area.height(), part.area.width(), CV_16UC1, part.values.data()};
}

void dilateByDisc(MaskPart &part, int radius)
{
    const int side = 2 * radius + 1;
    cv::Mat kernel(side, side, CV_8U);
    const float most = (float(radius) + 0.3F) * (float(radius) + 0.3F);
    for (int y = -radius; y <= radius; ++y)
        for (int x = -radius; x <= radius; ++x)
            kernel.at<uint8_t>(y + radius, x + radius) = float(x * x + y * y) <= most ? 1 : 0;
    const cv::Mat mat = matOf(part);
    cv::dilate(mat.clone(), mat, kernel, {-1, -1}, 1, cv::BORDER_CONSTANT, cv::Scalar(0));
}

/// Running maximum over 2 * half + 1 values along one line of pixels: three comparisons each.
class LineMaximum
{
public:
    void run(uint16_t *first, ptrdiff_t step, int n, int half)
    {
        const int window = 2 * half + 1;
        const int padded = (n + 2 * half + window - 1) / window * window;
        m_forward.assign(size_t(padded), 0);
        for (int i = 0; i < n; ++i)
            m_forward[size_t(i + half)] = first[i * step];
        m_backward = m_forward;
        for (int i = 1; i < padded; ++i)
            if (i % window != 0)
                m_forward[size_t(i)] = std::max(m_forward[size_t(i)], m_forward[size_t(i) - 1]);
        for (int i = padded - 2; i >= 0; --i)
            if (i % window != window - 1)
                m_backward[size_t(i)] = std::max(m_backward[size_t(i)], m_backward[size_t(i) + 1]);
        for (int i = 0; i < n; ++i)
            first[i * step] = std::max(m_backward[size_t(i)], m_forward[size_t(i + window - 1)]);
    }

private:
    std::vector<uint16_t> m_forward;
    std::vector<uint16_t> m_backward;
};

void dilateByOctagon(MaskPart &part, int radius)
{
    // A square of half-side a and a diamond of b diagonal steps add up to an octagon that reaches
    // a + 2 b straight on; a regular one has b = (1 - sqrt(1/2)) of that.
    const int b = int(std::lround(radius * (1 - std::sqrt(0.5))));
    const int a = radius - 2 * b;
    const int w = part.area.width();
    const int h = part.area.height();
    uint16_t *at = part.values.data();
    LineMaximum line;
    for (int y = 0; y < h; ++y)
        line.run(at + ptrdiff_t(y) * w, 1, w, a);
    for (int x = 0; x < w; ++x)
        line.run(at + x, w, h, a);
    for (int start = 1 - h; start < w; ++start) { // down to the right, then down to the left
        const int y = std::max(0, -start);
        const int x = std::max(0, start);
        line.run(at + ptrdiff_t(y) * w + x, w + 1, std::min(w - x, h - y), b);
    }
    for (int start = 0; start < w + h - 1; ++start) {
        const int y = std::max(0, start - (w - 1));
        const int x = std::min(start, w - 1);
        line.run(at + ptrdiff_t(y) * w + x, w - 1, std::min(x + 1, h - y), b);
    }
}

void dilate(MaskPart &part, int radius)
{
    if (radius <= 0)
        return;
    if (radius <= kMostDiscPx)
        dilateByDisc(part, radius);
    else
        dilateByOctagon(part, radius);
}

void invert(MaskPart &part)
{
    for (uint16_t &value : part.values)
        value = uint16_t(65535 - value);
}

} // namespace

int growMargin(float radiusPx)
{
    return int(std::ceil(std::abs(radiusPx))) + 1;
}

void grow(MaskPart &part, float radiusPx)
{
    const float radius = std::abs(radiusPx);
    const auto [least, most] = std::minmax_element(part.values.begin(), part.values.end());
    if (radius == 0 || least == part.values.end() || *least == *most)
        return;
    const bool shrinks = radiusPx < 0;
    if (shrinks)
        invert(part);
    const int whole = int(std::floor(radius));
    const float between = radius - float(whole);
    if (between > 0) {
        MaskPart further = part;
        dilate(further, whole + 1);
        dilate(part, whole);
        for (size_t i = 0; i < part.values.size(); ++i)
            part.values[i] = uint16_t(float(part.values[i]) +
                                      between * float(further.values[i] - part.values[i]) + 0.5F);
    } else {
        dilate(part, whole);
    }
    if (shrinks)
        invert(part);
}

int featherMargin(float sigmaPx)
{
    return sigmaPx > 0 ? int(std::ceil(3 * sigmaPx)) + 1 : 0;
}

void feather(MaskPart &part, float sigmaPx)
{
    const int side = 2 * int(std::ceil(3 * sigmaPx)) + 1;
    const cv::Mat mat = matOf(part);
    cv::GaussianBlur(mat, mat, {side, side}, sigmaPx, sigmaPx,
                     cv::BORDER_REPLICATE | cv::BORDER_ISOLATED);
}

void enlarge(const MaskPart &part, int steps, const Rect &area, uint16_t *out)
{
    struct Place {
        int low;
        int high;
        uint32_t share; ///< of `high`, in 2^(steps + 1)
    };
    const uint32_t whole = 2U << steps;
    const auto placeOf = [&](int fine, int from, int count) {
        const int at = 2 * fine + 1 - (1 << steps); // in halves of a fine px, from the first centre
        const int low = at >> (steps + 1);
        return Place{std::clamp(low - from, 0, count - 1), std::clamp(low + 1 - from, 0, count - 1),
                     uint32_t(at) & (whole - 1)};
    };
    std::vector<Place> columns;
    for (int x = area.x0; x < area.x1; ++x)
        columns.push_back(placeOf(x, part.area.x0, part.area.width()));
    const size_t stride = size_t(part.area.width());
    const uint64_t half = uint64_t(whole) * whole / 2;
    for (int y = area.y0; y < area.y1; ++y) {
        const Place row = placeOf(y, part.area.y0, part.area.height());
        const uint16_t *upper = part.values.data() + size_t(row.low) * stride;
        const uint16_t *lower = part.values.data() + size_t(row.high) * stride;
        for (const Place &column : columns) {
            const auto across = [&](const uint16_t *values) {
                return uint64_t(values[column.low]) * (whole - column.share) +
                       uint64_t(values[column.high]) * column.share;
            };
            const uint64_t sum = across(upper) * (whole - row.share) + across(lower) * row.share;
            *out++ = uint16_t((sum + half) / (uint64_t(whole) * whole));
        }
    }
}

} // namespace buttonhole
