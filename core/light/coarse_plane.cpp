#include "light/coarse_plane.h"

namespace buttonhole
{

Plane CoarsePlane::reduced(const Plane &in, const Rect &area, int step)
{
    Plane out((area.width() + step - 1) / step, (area.height() + step - 1) / step, 1);
    for (int y = 0; y < out.height(); ++y) {
        const int y1 = std::min((y + 1) * step, area.height());
        for (int x = 0; x < out.width(); ++x) {
            const int x1 = std::min((x + 1) * step, area.width());
            float sum = 0;
            for (int j = y * step; j < y1; ++j) {
                const float *row = in.row(j);
                float ofRow = 0;
                for (int i = x * step; i < x1; ++i)
                    ofRow += row[i];
                sum += ofRow;
            }
            out.row(y)[x] = sum / float((y1 - y * step) * (x1 - x * step));
        }
    }
    return out;
}

Plane CoarsePlane::enlarged(const Plane &coarse, const Rect &area, const Rect &part, int step)
{
    struct Between {
        int first;
        int second;
        float share; ///< of the second
    };
    const auto betweenAt = [step](int place, int count) {
        const float at = (float(place) + 0.5F) / float(step) - 0.5F;
        const int first = int(at + 1) - 1; // rounded down
        return Between{std::clamp(first, 0, count - 1), std::clamp(first + 1, 0, count - 1),
                       at - float(first)};
    };
    std::vector<Between> columns;
    for (int x = part.x0; x < part.x1; ++x)
        columns.push_back(betweenAt(x - area.x0, coarse.width()));
    Plane out(part.width(), part.height(), 1);
    for (int y = 0; y < out.height(); ++y) {
        const Between rows = betweenAt(y + part.y0 - area.y0, coarse.height());
        const float *above = coarse.row(rows.first);
        const float *below = coarse.row(rows.second);
        for (int x = 0; x < out.width(); ++x) {
            const auto &[first, second, share] = columns[size_t(x)];
            const float a = above[first] + share * (above[second] - above[first]);
            const float b = below[first] + share * (below[second] - below[first]);
            out.row(y)[x] = a + rows.share * (b - a);
        }
    }
    return out;
}

} // namespace buttonhole
