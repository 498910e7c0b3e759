#include "raster/row_sums.h"

namespace buttonhole
{

Image<float> summedInside(const Image<float> &in, const std::vector<float> &weights)
{
    const int r = int(weights.size()) - 1;
    const int width = in.width() - 2 * r;
    const int height = in.height() - 2 * r;
    std::vector<const float *> before(weights.size() - 1, nullptr);
    std::vector<const float *> after(weights.size() - 1, nullptr);
    Image<float> along(width, in.height(), 1);
    const auto sum = [&](const float *middle, ptrdiff_t step, float *to) {
        for (size_t k = 0; k < before.size(); ++k) {
            before[k] = middle - ptrdiff_t(k + 1) * step;
            after[k] = middle + ptrdiff_t(k + 1) * step;
        }
        sumPairs(weights.data(), before.size(), middle, before.data(), after.data(), width, to);
    };
    for (int y = 0; y < in.height(); ++y)
        sum(in.row(y) + r, 1, along.row(y));
    Image<float> out(width, height, 1);
    for (int y = 0; y < height; ++y)
        sum(along.row(y + r), width, out.row(y));
    return out;
}

} // namespace buttonhole
