#include "export/area_reducer.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

AreaReducer::AreaReducer(int inWidth, int inHeight, int outWidth, int outHeight,
                         const Profile &from, const Profile &to)
    : m_inWidth(inWidth), m_outWidth(outWidth), m_outHeight(outHeight),
      m_xStep(double(inWidth) / outWidth), m_yStep(double(inHeight) / outHeight), m_from(from),
      m_to(to), m_narrow(size_t(outWidth) * 3 + 64), m_sum(size_t(outWidth) * 3 + 64),
      m_done(size_t(outWidth) * 3)
{
}

void AreaReducer::narrow(const uint16_t *rgb)
{
    const auto w = size_t(m_outWidth);
    for (size_t c = 0; c < 3; ++c) {
        const float *linear = m_from.toLinear(c).data();
        for (size_t x = 0; x < w; ++x) {
            const double x0 = double(x) * m_xStep;
            const double x1 = std::min<double>(m_inWidth, double(x + 1) * m_xStep);
            const int first = int(x0);
            const int last = std::min(m_inWidth - 1, int(std::ceil(x1)) - 1);
            double sum = 0;
            for (int i = first; i <= last; ++i) {
                const double share = std::min<double>(i + 1, x1) - std::max<double>(i, x0);
                sum += share * double(linear[rgb[size_t(i) * 3 + c]]);
            }
            m_narrow[c * w + x] = float(sum / (x1 - x0));
        }
    }
}

/// The gathered row's light into the other profile's.
void AreaReducer::convert()
{
    if (m_from.toXyz() == m_to.toXyz())
        return;
    const Matrix3 matrix = inverse(m_to.toXyz()) * m_from.toXyz();
    const auto w = size_t(m_outWidth);
    for (size_t x = 0; x < w; ++x) {
        const Vector3 rgb = matrix * Vector3{m_sum[x], m_sum[w + x], m_sum[2 * w + x]};
        for (size_t c = 0; c < 3; ++c)
            m_sum[c * w + x] = float(std::clamp<double>(rgb[c], 0, 1));
    }
}

void AreaReducer::encodeInto(std::vector<uint16_t> &row)
{
    const auto w = size_t(m_outWidth);
    uint16_t codes[kRowRun + 64];
    float values[kRowRun + 64];
    for (size_t c = 0; c < 3; ++c)
        for (size_t x = 0; x < w; x += kRowRun) {
            const size_t n = std::min<size_t>(kRowRun, w - x);
            std::copy_n(m_sum.data() + c * w + x, n, values);
            encodeRow(m_to, c, 16, values, int(n), codes);
            for (size_t i = 0; i < n; ++i)
                row[(x + i) * 3 + c] = codes[i];
        }
}

} // namespace buttonhole
