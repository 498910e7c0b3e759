#include "render/colour_field.h"

#include "colour/oklab.h"
#include "io/lab_row.h"
#include "render/mask_stage.h"

#include <cmath>

namespace buttonhole
{

ColourField measureColourField(const PhotoLevels &levels, const Take &take)
{
    constexpr int kLongEdge = 600;
    constexpr float kLeastChroma = 0.02F;
    const int level = levels.levelWithin(kLongEdge);
    const Rect all = levels.rectOf(level);
    std::vector<uint16_t> mask(all.area());
    combinedMask(levels, take, level, all, mask.data());
    ColourField field;
    const uint16_t *kept = mask.data();
    LabRow run;
    for (int y = 0; y < all.y1; ++y)
        for (int x = 0; x < all.x1; x += kRowRun) {
            const int n = std::min(kRowRun, all.x1 - x);
            run.read(levels, level, x, y, n);
            for (int i = 0; i < n; ++i, ++kept) {
                const float chroma = std::hypot(run.a[i], run.b[i]);
                if (chroma < kLeastChroma)
                    continue;
                const double hue = hueDeg({0, run.a[i], run.b[i]});
                const int column =
                    std::min(int(hue / 360 * ColourField::kHues), ColourField::kHues - 1);
                const int row = std::clamp(int((1 - run.L[i]) * float(ColourField::kTones)), 0,
                                           ColourField::kTones - 1);
                auto &cell = field.cells[size_t(row) * ColourField::kHues + size_t(column)];
                cell.share += 1;
                cell.kept += float(*kept) / 65535;
                cell.chroma += chroma;
            }
        }
    for (auto &cell : field.cells)
        if (cell.share > 0) {
            cell.kept /= cell.share;
            cell.chroma /= cell.share;
            cell.share /= float(all.area());
        }
    return field;
}

} // namespace buttonhole
