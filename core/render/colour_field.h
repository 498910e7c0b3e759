#pragma once

#include "document/take.h"
#include "io/photo_levels.h"

#include <vector>

namespace buttonhole
{

/// The colours of a photo, hue by lightness. Pixels with hardly any chroma (below 0.02) have no
/// hue and are left out.
struct ColourField {
    static constexpr int kHues = 90;  ///< columns, from hue 0
    static constexpr int kTones = 48; ///< rows, the lightest first
    struct Cell {
        float share = 0;  ///< of all pixels, 0..1
        float kept = 0;   ///< 0..1: how much of it stays in colour
        float chroma = 0; ///< OKLab, mean
    };
    std::vector<Cell> cells = std::vector<Cell>(size_t(kHues) * kTones);
    const Cell &at(int hue, int tone) const { return cells[size_t(tone) * kHues + size_t(hue)]; }
};

/// From a reduced level; some 10 ms.
ColourField measureColourField(const PhotoLevels &levels, const Take &take);

} // namespace buttonhole
