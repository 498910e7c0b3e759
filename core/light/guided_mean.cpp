#include "light/guided_mean.h"

#include "base/each_cpu.h"
#include "raster/row_sums.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

BUTTONHOLE_EACH_CPU
void divide(float *values, const float *by, int n)
{
    for (int x = 0; x < n; ++x)
        values[x] /= by[x];
}

BUTTONHOLE_EACH_CPU
void divide(float *values, float by, int n)
{
    for (int x = 0; x < n; ++x)
        values[x] /= by;
}

BUTTONHOLE_EACH_CPU
void multiply(const float *a, const float *b, size_t n, float *to)
{
    for (size_t i = 0; i < n; ++i)
        to[i] = a[i] * b[i];
}

} // namespace

GuidedMean::GuidedMean(double sigma)
{
    constexpr double kSigmas = 2.5;
    const int radius = std::max(1, int(std::ceil(kSigmas * sigma)));
    for (int i = 0; i <= radius; ++i)
        m_weights.push_back(float(std::exp(-0.5 * i * i / (sigma * sigma))));
}

/// Weighted sums in a fixed order, divided by the weights that lie inside.
Plane GuidedMean::mean(const Plane &in) const
{
    const int r = radius();
    const int width = in.width();
    const int height = in.height();
    const auto weightsAt = [&](int length) {
        std::vector<float> out;
        for (int x = 0; x < length; ++x) {
            float sum = m_weights[0];
            for (int k = 1; k <= r; ++k)
                sum += m_weights[size_t(k)] *
                       (float(x - k >= 0 ? 1 : 0) + float(x + k < length ? 1 : 0));
            out.push_back(sum);
        }
        return out;
    };
    const auto ofColumn = weightsAt(width);
    const auto ofRow = weightsAt(height);
    Plane along(width, height, 1);
    std::vector<float> padded(size_t(width + 2 * r), 0.0F);
    std::vector<const float *> before(size_t(r), nullptr);
    std::vector<const float *> after(size_t(r), nullptr);
    const float *middle = padded.data() + r;
    for (int k = 1; k <= r; ++k) {
        before[size_t(k) - 1] = middle - k;
        after[size_t(k) - 1] = middle + k;
    }
    for (int y = 0; y < height; ++y) {
        std::copy_n(in.row(y), width, padded.begin() + r);
        sumPairs(m_weights.data(), size_t(r), middle, before.data(), after.data(), width,
                 along.row(y));
        divide(along.row(y), ofColumn.data(), width);
    }
    Plane out(width, height, 1);
    const std::vector<float> none(size_t(width), 0.0F);
    for (int y = 0; y < height; ++y) {
        for (int k = 1; k <= r; ++k) {
            before[size_t(k) - 1] = y - k >= 0 ? along.row(y - k) : none.data();
            after[size_t(k) - 1] = y + k < height ? along.row(y + k) : none.data();
        }
        sumPairs(m_weights.data(), size_t(r), along.row(y), before.data(), after.data(), width,
                 out.row(y));
        divide(out.row(y), ofRow[size_t(y)], width);
    }
    return out;
}

GuidedMean::Lines GuidedMean::lines(const Plane &in, const Plane &guide, float eps) const
{
    const size_t count = in.count();
    const bool isOwn = &in == &guide;
    const float *from = in.row(0);
    const float *by = guide.row(0);
    Plane squares(in.width(), in.height(), 1);
    Plane products(in.width(), in.height(), 1);
    multiply(by, by, count, squares.row(0));
    if (!isOwn)
        multiply(by, from, count, products.row(0));
    const Plane meanGuide = mean(guide);
    const Plane meanIn = isOwn ? meanGuide.clone() : mean(in);
    const Plane meanSquare = mean(squares);
    const Plane meanProduct = isOwn ? meanSquare.clone() : mean(products);
    Plane &slope = squares;
    Plane &offset = products;
    for (size_t i = 0; i < count; ++i) {
        const float g = meanGuide.row(0)[i];
        const float variance = std::max(meanSquare.row(0)[i] - g * g, 0.0F);
        const float own = meanIn.row(0)[i];
        slope.row(0)[i] = (meanProduct.row(0)[i] - g * own) / (variance + eps);
        offset.row(0)[i] = own - slope.row(0)[i] * g;
    }
    return {mean(slope), mean(offset)};
}

Plane GuidedMean::smoothed(const Plane &in, const Plane &guide, float eps) const
{
    auto [slope, out] = lines(in, guide, eps);
    for (size_t i = 0; i < out.count(); ++i)
        out.row(0)[i] += slope.row(0)[i] * guide.row(0)[i];
    return std::move(out);
}

} // namespace buttonhole
