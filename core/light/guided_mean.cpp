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

BUTTONHOLE_EACH_CPU
void lineRow(const float *meanGuide, const float *meanSquare, const float *own,
             const float *meanProduct, float eps, size_t n, float *__restrict slope)
{
    for (size_t i = 0; i < n; ++i) {
        const float square = meanGuide[i] * meanGuide[i];
        const float variance = meanSquare[i] - square > 0 ? meanSquare[i] - square : 0.0F;
        slope[i] = (meanProduct[i] - meanGuide[i] * own[i]) / (variance + eps);
    }
}

/// Of the own mean, in place.
BUTTONHOLE_EACH_CPU
void offsetRow(const float *meanGuide, const float *slope, size_t n, float *own)
{
    for (size_t i = 0; i < n; ++i)
        own[i] -= slope[i] * meanGuide[i];
}

/// Weighted means of a plane whose rows come one after the other: sums in a fixed order, divided by
/// the weights that lie inside.
class RowMeans
{
public:
    RowMeans(const std::vector<float> &weights, int width, int height)
        : m_weights(weights), m_radius(int(weights.size()) - 1), m_width(width), m_height(height),
          m_padded(size_t(width + 2 * m_radius), 0.0F), m_none(size_t(width), 0.0F),
          m_ring(size_t(height > 0 ? rows() * width : 0)), m_before(size_t(m_radius)),
          m_after(size_t(m_radius))
    {
        for (int x = 0; x < width; ++x)
            m_ofColumn.push_back(weightInside(x, width));
    }

    /// The next row.
    void push(const float *row)
    {
        const float *middle = m_padded.data() + m_radius;
        std::copy_n(row, m_width, m_padded.begin() + m_radius);
        for (int k = 1; k <= m_radius; ++k) {
            m_before[size_t(k) - 1] = middle - k;
            m_after[size_t(k) - 1] = middle + k;
        }
        float *to = ringRow(m_pushed++);
        sumPairs(m_weights.data(), size_t(m_radius), middle, m_before.data(), m_after.data(),
                 m_width, to);
        divide(to, m_ofColumn.data(), m_width);
    }
    /// Of a row whose neighbours within the radius, as far as there are such, were the last ones.
    void mean(int y, float *to)
    {
        for (int k = 1; k <= m_radius; ++k) {
            m_before[size_t(k) - 1] = y - k >= 0 ? ringRow(y - k) : m_none.data();
            m_after[size_t(k) - 1] = y + k < m_height ? ringRow(y + k) : m_none.data();
        }
        sumPairs(m_weights.data(), size_t(m_radius), ringRow(y), m_before.data(), m_after.data(),
                 m_width, to);
        divide(to, weightInside(y, m_height), m_width);
    }

private:
    int rows() const { return 2 * m_radius + 1; }
    float *ringRow(int y) { return m_ring.data() + size_t(y % rows()) * size_t(m_width); }
    float weightInside(int x, int length) const
    {
        float sum = m_weights[0];
        for (int k = 1; k <= m_radius; ++k)
            sum +=
                m_weights[size_t(k)] * (float(x - k >= 0 ? 1 : 0) + float(x + k < length ? 1 : 0));
        return sum;
    }

    const std::vector<float> &m_weights;
    int m_radius;
    int m_width;
    int m_height;
    int m_pushed = 0;
    std::vector<float> m_ofColumn;
    std::vector<float> m_padded;
    std::vector<float> m_none;
    std::vector<float> m_ring;
    std::vector<const float *> m_before;
    std::vector<const float *> m_after;
};

} // namespace

GuidedMean::GuidedMean(double sigma)
{
    constexpr double kSigmas = 2.5;
    const int radius = std::max(1, int(std::ceil(kSigmas * sigma)));
    for (int i = 0; i <= radius; ++i)
        m_weights.push_back(float(std::exp(-0.5 * i * i / (sigma * sigma))));
}

Plane GuidedMean::mean(const Plane &in) const
{
    Plane out(in.width(), in.height(), 1);
    RowMeans means(m_weights, in.width(), in.height());
    for (int y = 0; y < in.height() + radius(); ++y) {
        if (y < in.height())
            means.push(in.row(y));
        if (y >= radius())
            means.mean(y - radius(), out.row(y - radius()));
    }
    return out;
}

/// Row after row, so that what is in hand stays in a processor's nearest caches.
GuidedMean::Lines GuidedMean::lines(const Plane &in, const Plane &guide, float eps) const
{
    const int width = in.width();
    const int height = in.height();
    const int r = radius();
    const bool isOwn = &in == &guide;
    RowMeans ofGuide(m_weights, width, height);
    RowMeans ofSquares(m_weights, width, height);
    RowMeans ofIn(m_weights, width, isOwn ? 0 : height);
    RowMeans ofProducts(m_weights, width, isOwn ? 0 : height);
    RowMeans ofSlopes(m_weights, width, height);
    RowMeans ofOffsets(m_weights, width, height);
    const auto room = size_t(width);
    std::vector<float> product(room);
    std::vector<float> meanGuide(room);
    std::vector<float> meanSquare(room);
    std::vector<float> meanIn(room);
    std::vector<float> meanProduct(room);
    Lines out{Plane(width, height, 1), Plane(width, height, 1)};
    for (int y = 0; y < height + 2 * r; ++y) {
        if (y < height) {
            ofGuide.push(guide.row(y));
            multiply(guide.row(y), guide.row(y), room, product.data());
            ofSquares.push(product.data());
            if (!isOwn) {
                ofIn.push(in.row(y));
                multiply(guide.row(y), in.row(y), room, product.data());
                ofProducts.push(product.data());
            }
        }
        if (const int line = y - r; line >= 0 && line < height) {
            ofGuide.mean(line, meanGuide.data());
            ofSquares.mean(line, meanSquare.data());
            if (!isOwn) {
                ofIn.mean(line, meanIn.data());
                ofProducts.mean(line, meanProduct.data());
            }
            std::vector<float> &slope = product;
            std::vector<float> &own = isOwn ? meanGuide : meanIn;
            lineRow(meanGuide.data(), meanSquare.data(), own.data(),
                    (isOwn ? meanSquare : meanProduct).data(), eps, room, slope.data());
            ofSlopes.push(slope.data());
            offsetRow(meanGuide.data(), slope.data(), room, own.data());
            ofOffsets.push(own.data());
        }
        if (const int made = y - 2 * r; made >= 0) {
            ofSlopes.mean(made, out.slope.row(made));
            ofOffsets.mean(made, out.offset.row(made));
        }
    }
    return out;
}

Plane GuidedMean::smoothed(const Plane &in, const Plane &guide, float eps) const
{
    auto [slope, out] = lines(in, guide, eps);
    for (size_t i = 0; i < out.count(); ++i)
        out.row(0)[i] += slope.row(0)[i] * guide.row(0)[i];
    return std::move(out);
}

} // namespace buttonhole
