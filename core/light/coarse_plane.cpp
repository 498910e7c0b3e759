#include "light/coarse_plane.h"

#include "base/each_cpu.h"

#include <vector>

namespace buttonhole
{

namespace
{

struct Between {
    int first;
    int second;
    float share; ///< of the second
};

/// Between what a row's pixels lie.
struct Columns {
    void add(const Between &between)
    {
        first.push_back(between.first);
        second.push_back(between.second);
        share.push_back(between.share);
    }
    std::vector<int> first;
    std::vector<int> second;
    std::vector<float> share;
};

BUTTONHOLE_EACH_CPU
void betweenRows(const float *above, const float *below, float share, int n, float *to)
{
    for (int x = 0; x < n; ++x)
        to[x] = above[x] + share * (below[x] - above[x]);
}

BUTTONHOLE_EACH_CPU
void betweenColumns(const float *row, const int *first, const int *second, const float *share,
                    int n, float *__restrict to)
{
    for (int x = 0; x < n; ++x)
        to[x] = row[first[x]] + share[x] * (row[second[x]] - row[first[x]]);
}

} // namespace

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
    const auto between = [step](int place, int count) {
        const float at = (float(place) + 0.5F) / float(step) - 0.5F;
        const int first = int(at + 1) - 1; // rounded down
        return Between{std::clamp(first, 0, count - 1), std::clamp(first + 1, 0, count - 1),
                       at - float(first)};
    };
    Columns columns;
    for (int x = part.x0; x < part.x1; ++x)
        columns.add(between(x - area.x0, coarse.width()));
    Plane out(part.width(), part.height(), 1);
    std::vector<float> middle(size_t(coarse.width()));
    for (int y = 0; y < out.height(); ++y) {
        const Between rows = between(y + part.y0 - area.y0, coarse.height());
        betweenRows(coarse.row(rows.first), coarse.row(rows.second), rows.share, coarse.width(),
                    middle.data());
        betweenColumns(middle.data(), columns.first.data(), columns.second.data(),
                       columns.share.data(), out.width(), out.row(y));
    }
    return out;
}

} // namespace buttonhole
