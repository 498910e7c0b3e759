#pragma once

#include "colour/pixel_rows.h"

#include <vector>

namespace buttonhole
{

/// Makes a picture smaller row by row: each output pixel is the exact mean, in linear light, of the
/// area it covers. Written here rather than taken from a library because those need the whole
/// picture in memory; this holds one output row.
class AreaReducer
{
public:
    /// Sizes in px, out <= in; codes are 16-bit RGB, those that come of `from`, those made of `to`.
    AreaReducer(int inWidth, int inHeight, int outWidth, int outHeight, const Profile &from,
                const Profile &to);
    AreaReducer(int inWidth, int inHeight, int outWidth, int outHeight, const Profile &profile)
        : AreaReducer(inWidth, inHeight, outWidth, outHeight, profile, profile)
    {
    }

    /// Takes the next input row; calls `emit` with each output row that becomes complete
    /// (outWidth * 3 codes, 0..65535).
    template <class Emit>
    void addRow(const uint16_t *rgb, const Emit &emit);

private:
    void narrow(const uint16_t *rgb);
    void convert();
    void encodeInto(std::vector<uint16_t> &row);

    int m_inWidth;
    int m_outWidth;
    int m_outHeight;
    double m_xStep; ///< input px per output px
    double m_yStep;
    Profile m_from;
    Profile m_to;
    int m_inRow = 0;
    int m_outRow = 0;
    std::vector<float> m_narrow; ///< the input row at output width, planar
    std::vector<float> m_sum;    ///< the output row being gathered, planar
    std::vector<uint16_t> m_done;
};

template <class Emit>
void AreaReducer::addRow(const uint16_t *rgb, const Emit &emit)
{
    narrow(rgb);
    double top = m_inRow;
    const double bottom = ++m_inRow;
    while (top < bottom && m_outRow < m_outHeight) {
        const double end = (m_outRow + 1) * m_yStep;
        const double until = std::min(bottom, end);
        const auto share = float((until - top) / m_yStep);
        for (size_t i = 0; i < m_sum.size(); ++i)
            m_sum[i] += share * m_narrow[i];
        // The last row is complete with the last input row, whatever rounding says.
        if (until >= end - 1e-9) {
            convert();
            encodeInto(m_done);
            emit(m_done.data());
            std::fill(m_sum.begin(), m_sum.end(), 0.0F);
            ++m_outRow;
        }
        top = until;
    }
}

} // namespace buttonhole
