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

/// The greatest of 2 * half + 1 values along lines that go `dx` aside with each row, in place:
/// three comparisons each, whole rows at a time.
void maximumAlong(cv::Mat mat, int half, int dx) // NOLINT(performance-unnecessary-value-param)
{
    if (half == 0)
        return;
    const int window = 2 * half + 1;
    const int side = dx == 0 ? 0 : half;
    cv::Mat forward;
    cv::copyMakeBorder(mat, forward, half, half, side, side, cv::BORDER_CONSTANT, 0);
    cv::Mat backward = forward.clone();
    const cv::Range own(std::max(dx, 0), forward.cols + std::min(dx, 0)); // has one beside it
    const cv::Range next(own.start - dx, own.end - dx);
    const auto join = [](cv::Mat &rows, int y, const cv::Range &at, int from,
                         const cv::Range &fromAt) {
        cv::Mat to = rows.row(y).colRange(at);
        cv::max(to, rows.row(from).colRange(fromAt), to);
    };
    for (int y = 1; y < forward.rows; ++y)
        if (y % window != 0)
            join(forward, y, own, y - 1, next);
    for (int y = forward.rows - 2; y >= 0; --y)
        if (y % window != window - 1)
            join(backward, y, next, y + 1, own);
    for (int y = 0; y < mat.rows; ++y) {
        cv::Mat to = mat.row(y);
        cv::max(backward.row(y).colRange(side - dx * half, side - dx * half + mat.cols),
                forward.row(y + 2 * half).colRange(side + dx * half, side + dx * half + mat.cols),
                to);
    }
}

void dilateByOctagon(MaskPart &part, int radius)
{
    // A square of half-side a and a diamond of b diagonal steps add up to an octagon that reaches
    // a + 2 b straight on; a regular one has b = (1 - sqrt(1/2)) of that.
    const int b = int(std::lround(radius * (1 - std::sqrt(0.5))));
    const int a = radius - 2 * b;
    const cv::Mat mat = matOf(part);
    maximumAlong(mat, a, 0);
    cv::Mat turned = mat.t();
    maximumAlong(turned, a, 0);
    cv::transpose(turned, mat);
    maximumAlong(mat, b, 1);
    maximumAlong(mat, b, -1);
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

/// Sets `value` where the connected parts of `of` are small.
void clearSmall(MaskPart &part, const cv::Mat &of, int longestPx, int connectivity,
                bool mayTouchRim, uint16_t value)
{
    cv::Mat1i labels;
    cv::Mat1i stats;
    cv::Mat1d centres;
    const int count =
        cv::connectedComponentsWithStats(of, labels, stats, centres, connectivity, CV_32S);
    std::vector<uint8_t> isSmall(size_t(count), 0);
    bool hasSmall = false;
    for (int i = 1; i < count; ++i) {
        const cv::Rect box(stats(i, cv::CC_STAT_LEFT), stats(i, cv::CC_STAT_TOP),
                           stats(i, cv::CC_STAT_WIDTH), stats(i, cv::CC_STAT_HEIGHT));
        const bool touches =
            box.x == 0 || box.y == 0 || box.br().x == of.cols || box.br().y == of.rows;
        isSmall[size_t(i)] =
            std::max(box.width, box.height) <= longestPx && (mayTouchRim || !touches);
        hasSmall |= isSmall[size_t(i)] != 0;
    }
    if (!hasSmall)
        return;
    auto to = part.values.begin();
    for (const int label : labels) {
        if (isSmall[size_t(label)])
            *to = value;
        ++to;
    }
}

} // namespace

void dropSpecks(MaskPart &part, int longestPx)
{
    constexpr double kSpeck = 65535 / 16;
    const auto [least, most] = std::minmax_element(part.values.begin(), part.values.end());
    if (longestPx > 0 && most != part.values.end() && *most >= kSpeck && *least < kSpeck)
        clearSmall(part, matOf(part) >= kSpeck, longestPx, 8, true, 0);
}

void fillHoles(MaskPart &part, int longestPx)
{
    constexpr double kHole = 65535 - 65535 / 16;
    const auto [least, most] = std::minmax_element(part.values.begin(), part.values.end());
    if (longestPx > 0 && most != part.values.end() && *most >= kHole && *least < kHole)
        clearSmall(part, matOf(part) < kHole, longestPx, 4, false, 65535);
}

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

void featherWide(MaskPart &part, float sigmaPx)
{
    constexpr float kEnough = 12;
    int shrunk = 1;
    for (; sigmaPx > kEnough; sigmaPx /= 2)
        shrunk *= 2;
    const cv::Mat mat = matOf(part);
    const cv::Size size(std::max(1, mat.cols / shrunk), std::max(1, mat.rows / shrunk));
    MaskPart small({0, 0, size.width, size.height});
    const cv::Mat smallMat = matOf(small);
    cv::resize(mat, smallMat, size, 0, 0, cv::INTER_AREA);
    feather(small, sigmaPx);
    cv::resize(smallMat, mat, mat.size(), 0, 0, cv::INTER_LINEAR);
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
    const auto stride = size_t(part.area.width());
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
