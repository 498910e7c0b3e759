#pragma once

#include "colour/profile.h"

#include <array>
#include <cstdint>
#include <vector>

namespace buttonhole
{

/// Makes a picture larger row by row, by a cubic through the pixels in linear light (R. Keys,
/// "Cubic convolution interpolation for digital image processing", 1981, a = -0.5). As AreaReducer
/// it holds a few rows only.
class CubicEnlarger
{
public:
    /// Sizes in px, any; where one is smaller by much, lines alias: that is AreaReducer's. Codes
    /// are 16-bit RGB of the profile.
    CubicEnlarger(int inWidth, int inHeight, int outWidth, int outHeight, const Profile &profile);

    /// Takes the next input row; calls `emit` with each output row that becomes complete
    /// (outWidth * 3 codes, 0..65535).
    template <class Emit>
    void addRow(const uint16_t *rgb, const Emit &emit)
    {
        widen(rgb);
        while (m_outRow < m_outHeight && isReady()) {
            makeRow();
            emit(m_done.data());
            ++m_outRow;
        }
    }

private:
    struct Taps {
        std::array<int, 4> at; ///< rows or columns, inside
        std::array<float, 4> share;
    };
    static Taps tapsAt(int out, double step, int count);
    void widen(const uint16_t *rgb);
    bool isReady() const;
    void makeRow();

    int m_inHeight;
    int m_outWidth;
    int m_outHeight;
    double m_yStep; ///< input px per output px
    Profile m_profile;
    std::vector<Taps> m_columns;
    std::array<std::vector<float>, 4> m_rows; ///< the last input rows at output width, planar
    int m_inRow = 0;                          ///< that came so far
    int m_outRow = 0;
    std::vector<float> m_sum;
    std::vector<uint16_t> m_done;
};

} // namespace buttonhole
