#pragma once

#include "base/rect.h"
#include "export/area_reducer.h"
#include "raster/image.h"

#include <cstdint>

namespace buttonhole
{

/// A small sRGB picture of what is being written, gathered as its rows go by: from every so many
/// pixels both ways, four for one of the small picture's.
class Thumbnail
{
public:
    /// @param profile of the rows
    Thumbnail(int width, int height, int longEdgePx, const Profile &profile);

    /// The next rows of the picture, RGB of 8 or 16 bits.
    void addRows(const uint8_t *rows, int count, int bits);
    /// Once all rows were added.
    std::vector<uint8_t> jpeg() const;

private:
    int m_width;
    int m_step; ///< px from one sample to the next
    int m_row = 0;
    AreaReducer m_reducer;
    std::vector<uint16_t> m_samples;
    Image<uint8_t> m_small;
    int m_done = 0;
};

} // namespace buttonhole
