#include "tone/detail_plane.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace buttonhole
{

DetailPlane::DetailPlane(Reach reach, const Image<float> &lightness, int fullWidth, int fullHeight)
    : m_width(lightness.width()), m_height(lightness.height()), m_fullWidth(fullWidth),
      m_fullHeight(fullHeight)
{
    const double share = reach == Reach::Local ? 0.02 : 0.0025;
    // Differences of lightness well above this are edges and stay out of the contrast.
    const double edge = reach == Reach::Local ? 0.05 : 0.04;
    const int radius = std::max(1, int(std::lround(share * std::max(m_width, m_height))));
    const cv::Size window(2 * radius + 1, 2 * radius + 1);
    const auto mean = [&](const cv::Mat &of) {
        cv::Mat out;
        cv::blur(of, out, window, {-1, -1}, cv::BORDER_REFLECT);
        return out;
    };
    const cv::Mat t(m_height, m_width, CV_32F, const_cast<float *>(lightness.row(0)));
    const cv::Mat m = mean(t);
    const cv::Mat variance = cv::max(mean(t.mul(t)) - m.mul(m), 0.0);
    cv::Mat a = variance / (variance + edge * edge);
    cv::Mat b = m - a.mul(m);
    a = mean(a);
    b = mean(b);
    m_a.assign(a.begin<float>(), a.end<float>());
    m_b.assign(b.begin<float>(), b.end<float>());
}

void DetailPlane::readRow(int x, int y, int level, int n, float *a, float *b) const
{
    const auto step = double(1 << level);
    const double sx = step * m_width / m_fullWidth;
    const double sy = step * m_height / m_fullHeight;
    const double py = std::clamp((y + 0.5) * sy - 0.5, 0.0, double(m_height - 1));
    const int y0 = std::min(int(py), std::max(m_height - 2, 0));
    const auto fy = float(py - y0);
    const ptrdiff_t down = y0 + 1 < m_height ? m_width : 0;
    const float *rowA = m_a.data() + size_t(y0) * size_t(m_width);
    const float *rowB = m_b.data() + size_t(y0) * size_t(m_width);
    const auto lastX = float(m_width - 1);
    const int most = std::max(m_width - 2, 0);
    const auto placeOf = [&](int i) {
        return std::clamp(float((x + i + 0.5) * sx - 0.5), 0.0F, lastX);
    };
    const ptrdiff_t right = m_width > 1 ? 1 : 0;
    const auto between = [&](const float *row, ptrdiff_t at) {
        return row[at] + fy * (row[at + down] - row[at]);
    };
    constexpr int kMostColumns = 260;
    const int first = std::min(int(placeOf(0)), most);
    const int columns = std::min(int(placeOf(n - 1)), most) + 2 - first;
    if (columns > kMostColumns) { // a reduced picture: few pixels share a column
        for (int i = 0; i < n; ++i) {
            const float px = placeOf(i);
            const int x0 = std::min(int(px), most);
            const float fx = px - float(x0);
            const float left = between(rowA, x0);
            const float leftB = between(rowB, x0);
            a[i] = left + fx * (between(rowA, x0 + right) - left);
            b[i] = leftB + fx * (between(rowB, x0 + right) - leftB);
        }
        return;
    }
    // The two rows become one first; then the pixels lie between its columns.
    float rowOfA[kMostColumns];
    float rowOfB[kMostColumns];
    for (int c = 0; c < columns; ++c) {
        const ptrdiff_t at = std::min(first + c, m_width - 1);
        rowOfA[c] = between(rowA, at);
        rowOfB[c] = between(rowB, at);
    }
    for (int i = 0; i < n; ++i) {
        const float px = placeOf(i);
        const int x0 = std::min(int(px), most) - first;
        const float fx = px - float(x0 + first);
        a[i] = rowOfA[x0] + fx * (rowOfA[x0 + 1] - rowOfA[x0]);
        b[i] = rowOfB[x0] + fx * (rowOfB[x0 + 1] - rowOfB[x0]);
    }
}

} // namespace buttonhole
