#include "export/cubic_enlarger.h"

#include "colour/pixel_rows.h"
#include "raster/cubic_rows.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

CubicEnlarger::CubicEnlarger(int inWidth, int inHeight, int outWidth, int outHeight,
                             const Profile &profile)
    : m_inHeight(inHeight), m_outWidth(outWidth), m_outHeight(outHeight),
      m_yStep(double(inHeight) / outHeight), m_profile(profile),
      m_sum(size_t(outWidth) * 3 + kRowRun), m_done(size_t(outWidth) * 3 + kRowRun)
{
    const double step = double(inWidth) / outWidth;
    for (int x = 0; x < outWidth; ++x)
        m_columns.push_back(tapsAt(x, step, inWidth));
    for (auto &row : m_rows)
        row.resize(size_t(outWidth) * 3);
}

CubicEnlarger::Taps CubicEnlarger::tapsAt(int out, double step, int count)
{
    const double place = (out + 0.5) * step - 0.5;
    const double first = std::floor(place);
    Taps taps{{}, cubicShares(float(place - first))};
    for (int i = 0; i < 4; ++i)
        taps.at[size_t(i)] = std::clamp(int(first) - 1 + i, 0, count - 1);
    return taps;
}

void CubicEnlarger::widen(const uint16_t *rgb)
{
    std::vector<float> &row = m_rows[size_t(m_inRow % 4)];
    const auto width = size_t(m_outWidth);
    for (size_t c = 0; c < 3; ++c) {
        const float *linear = m_profile.toLinear(c).data();
        for (size_t x = 0; x < width; ++x) {
            const auto &[at, share] = m_columns[x];
            float sum = 0;
            for (size_t i = 0; i < 4; ++i)
                sum += share[i] * linear[rgb[size_t(at[i]) * 3 + c]];
            row[c * width + x] = sum;
        }
    }
    ++m_inRow;
}

bool CubicEnlarger::isReady() const
{
    return tapsAt(m_outRow, m_yStep, m_inHeight).at[3] < m_inRow;
}

void CubicEnlarger::makeRow()
{
    const auto &[at, share] = tapsAt(m_outRow, m_yStep, m_inHeight);
    const auto width = size_t(m_outWidth);
    std::fill(m_sum.begin(), m_sum.end(), 0.0F);
    for (size_t i = 0; i < 4; ++i) {
        const std::vector<float> &row = m_rows[size_t(at[i] % 4)];
        for (size_t x = 0; x < 3 * width; ++x)
            m_sum[x] += share[i] * row[x];
    }
    std::array<uint16_t, kRowRun + 64> codes;
    for (size_t c = 0; c < 3; ++c)
        for (size_t x = 0; x < width; x += kRowRun) {
            const size_t n = std::min<size_t>(kRowRun, width - x);
            encodeRow(m_profile, c, 16, m_sum.data() + c * width + x, int(n), codes.data());
            for (size_t i = 0; i < n; ++i)
                m_done[(x + i) * 3 + c] = codes[i];
        }
}

} // namespace buttonhole
