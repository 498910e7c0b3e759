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

/// Of weights round a place of 0 .. length - 1.
float weightInside(const std::vector<float> &weights, int x, int length)
{
    float sum = weights[0];
    for (int k = 1; k < int(weights.size()); ++k)
        sum += weights[size_t(k)] * (float(x - k >= 0 ? 1 : 0) + float(x + k < length ? 1 : 0));
    return sum;
}

/// Weighted means of a plane whose rows come one after the other: sums in a fixed order, divided by
/// the weights that lie inside.
class RowMeans
{
public:
    /// @param isDivided the weights are, by their sum
    RowMeans(const std::vector<float> &weights, bool isDivided, int width, int height)
        : m_weights(weights), m_isDivided(isDivided), m_radius(int(weights.size()) - 1),
          m_width(width), m_height(height), m_sums(weights, width),
          m_padded(size_t(width + 2 * m_radius), 0.0F)
    {
        for (int x = 0; x < width; ++x)
            m_ofColumn.push_back(weightInside(weights, x, width));
        for (int k = 0; k < m_radius; ++k)
            m_sums.push(m_padded.data());
    }

    /// The next row; null: the plane has ended.
    void push(const float *row)
    {
        if (row)
            std::copy_n(row, m_width, m_padded.begin() + m_radius);
        else
            std::fill(m_padded.begin(), m_padded.end(), 0.0F);
        float *sums = m_sums.push(m_padded.data());
        if (!m_isDivided || m_width <= 2 * m_radius) {
            divide(sums, m_ofColumn.data(), m_width);
            return;
        }
        divide(sums, m_ofColumn.data(), m_radius);
        const int behind = m_width - m_radius;
        divide(sums + behind, m_ofColumn.data() + behind, m_radius);
    }
    /// Of a row whose last neighbour within the radius was pushed last.
    void mean(int y, float *to)
    {
        m_sums.sum(to);
        if (!m_isDivided || y < m_radius || y >= m_height - m_radius)
            divide(to, weightInside(m_weights, y, m_height), m_width);
    }

private:
    const std::vector<float> &m_weights;
    bool m_isDivided;
    int m_radius;
    int m_width;
    int m_height;
    RingSums m_sums;
    std::vector<float> m_padded;
    std::vector<float> m_ofColumn;
};

BUTTONHOLE_EACH_CPU
void splitRow(const float *row, int n, float *__restrict even, float *__restrict odd)
{
    for (int i = 0; i < n; ++i) {
        even[i] = row[2 * i];
        odd[i] = row[2 * i + 1];
    }
}

/// Weighted means at every other pixel of every other row; weights are divided beforehand.
class EveryOtherMeans
{
public:
    EveryOtherMeans(const std::vector<float> &weights, int width, int height)
        : m_weights(weights), m_radius(int(weights.size()) - 1), m_width(width), m_height(height),
          m_half((width + 1) / 2), m_none(size_t(width), 0.0F), m_above(size_t(m_radius)),
          m_below(size_t(m_radius)), m_row(size_t(2 * m_half), 0.0F),
          m_even(size_t(m_half + 2 * m_radius), 0.0F), m_odd(m_even.size(), 0.0F)
    {
        for (int x = 0; x < width; x += 2)
            m_ofColumn.push_back(weightInside(weights, x, width));
    }

    /// @param rowAt of a y that lies inside
    template <class RowAt>
    void mean(int y, const RowAt &rowAt, float *to)
    {
        for (int k = 1; k <= m_radius; ++k) {
            m_above[size_t(k) - 1] = y - k >= 0 ? rowAt(y - k) : m_none.data();
            m_below[size_t(k) - 1] = y + k < m_height ? rowAt(y + k) : m_none.data();
        }
        const auto count = size_t(m_radius);
        sumPairs(m_weights.data(), count, rowAt(y), m_above.data(), m_below.data(), m_width,
                 m_row.data());
        if (y < m_radius || y >= m_height - m_radius)
            divide(m_row.data(), weightInside(m_weights, y, m_height), m_width);
        float *even = m_even.data() + m_radius;
        float *odd = m_odd.data() + m_radius;
        splitRow(m_row.data(), m_half, even, odd);
        for (int k = 1; k <= m_radius; ++k) { // of pixels beside it in one row
            m_above[size_t(k) - 1] = k % 2 == 0 ? even - k / 2 : odd - (k + 1) / 2;
            m_below[size_t(k) - 1] = k % 2 == 0 ? even + k / 2 : odd + (k - 1) / 2;
        }
        sumPairs(m_weights.data(), count, even, m_above.data(), m_below.data(), m_half, to);
        for (int i = 0; i < m_half; ++i)
            if (2 * i < m_radius || 2 * i >= m_width - m_radius)
                to[i] /= m_ofColumn[size_t(i)];
    }

private:
    const std::vector<float> &m_weights;
    int m_radius;
    int m_width;
    int m_height;
    int m_half;
    std::vector<float> m_none;
    std::vector<const float *> m_above;
    std::vector<const float *> m_below;
    std::vector<float> m_row; ///< beyond an odd width 0
    std::vector<float> m_even;
    std::vector<float> m_odd;
    std::vector<float> m_ofColumn;
};

PlaneRows rowsOf(const Plane &plane)
{
    return {plane.row(0), size_t(plane.width()), plane.width(), plane.height()};
}

} // namespace

GuidedMean::GuidedMean(double sigma, Divided divided)
    : m_sigma(sigma), m_isDivided(divided == Divided::Beforehand)
{
    constexpr double kSigmas = 2.5;
    const int radius = std::max(1, int(std::ceil(kSigmas * sigma)));
    for (int i = 0; i <= radius; ++i)
        m_weights.push_back(float(std::exp(-0.5 * i * i / (sigma * sigma))));
    if (!m_isDivided)
        return;
    float sum = m_weights[0];
    for (int i = 1; i <= radius; ++i)
        sum += 2 * m_weights[size_t(i)];
    for (float &weight : m_weights)
        weight /= sum;
}

Plane GuidedMean::mean(const Plane &in) const
{
    Plane out(in.width(), in.height(), 1);
    RowMeans means(m_weights, m_isDivided, in.width(), in.height());
    for (int y = 0; y < in.height() + radius(); ++y) {
        means.push(y < in.height() ? in.row(y) : nullptr);
        if (y >= radius())
            means.mean(y - radius(), out.row(y - radius()));
    }
    return out;
}

/// Row after row, so that what is in hand stays in a processor's nearest caches.
void GuidedMean::linesByRow(const PlaneRows &in, const PlaneRows &guide, float eps,
                            const TakeLines &take) const
{
    const int width = in.width;
    const int height = in.height;
    const int r = radius();
    const bool isOwn = in.first == guide.first;
    RowMeans ofGuide(m_weights, m_isDivided, width, height);
    RowMeans ofSquares(m_weights, m_isDivided, width, height);
    RowMeans ofIn(m_weights, m_isDivided, isOwn ? 0 : width, height);
    RowMeans ofProducts(m_weights, m_isDivided, isOwn ? 0 : width, height);
    RowMeans ofSlopes(m_weights, m_isDivided, width, height);
    RowMeans ofOffsets(m_weights, m_isDivided, width, height);
    const auto room = size_t(width);
    std::vector<float> product(room);
    std::vector<float> meanGuide(room);
    std::vector<float> meanSquare(room);
    std::vector<float> meanIn(room);
    std::vector<float> meanProduct(room);
    std::vector<float> meanSlope(room);
    std::vector<float> meanOffset(room);
    for (int y = 0; y < height + 2 * r; ++y) {
        const float *row = y < height ? guide.row(y) : nullptr;
        const auto timesGuide = [&](const float *by) {
            if (row)
                multiply(row, by, room, product.data());
            return row ? product.data() : nullptr;
        };
        ofGuide.push(row);
        ofSquares.push(timesGuide(row));
        if (!isOwn) {
            const float *own = row ? in.row(y) : nullptr;
            ofIn.push(own);
            ofProducts.push(timesGuide(own));
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
        } else if (line >= height) {
            ofSlopes.push(nullptr);
            ofOffsets.push(nullptr);
        }
        if (const int made = y - 2 * r; made >= 0) {
            ofSlopes.mean(made, meanSlope.data());
            ofOffsets.mean(made, meanOffset.data());
            take(made, meanSlope.data(), meanOffset.data());
        }
    }
}

GuidedMean::Lines GuidedMean::lines(const Plane &in, const Plane &guide, float eps) const
{
    Lines out{Plane(in.width(), in.height(), 1), Plane(in.width(), in.height(), 1)};
    linesByRow(rowsOf(in), rowsOf(guide), eps, [&](int y, const float *slope, const float *offset) {
        std::copy_n(slope, in.width(), out.slope.row(y));
        std::copy_n(offset, in.width(), out.offset.row(y));
    });
    return out;
}

GuidedMean::Lines GuidedMean::everyOther(const PlaneRows &guide, float eps) const
{
    const int r = radius();
    const int width = (guide.width + 1) / 2;
    const int height = (guide.height + 1) / 2;
    EveryOtherMeans means(m_weights, guide.width, guide.height);
    const auto rows = size_t(2 * r + 1);
    std::vector<float> squares(rows * size_t(guide.width));
    const auto squareRow = [&](int y) {
        return squares.data() + size_t(y) % rows * size_t(guide.width);
    };
    int squared = 0;
    const GuidedMean half(m_sigma / 2, Divided::Beforehand);
    RowMeans ofSlopes(half.m_weights, true, width, height);
    RowMeans ofOffsets(half.m_weights, true, width, height);
    const auto room = size_t(width);
    std::vector<float> meanGuide(room);
    std::vector<float> meanSquare(room);
    std::vector<float> slope(room);
    Lines out{Plane(width, height, 1), Plane(width, height, 1)};
    for (int y = 0; y < height + half.radius(); ++y) {
        for (; squared < std::min(2 * y + r + 1, guide.height); ++squared)
            multiply(guide.row(squared), guide.row(squared), size_t(guide.width),
                     squareRow(squared));
        if (y < height) {
            means.mean(
                2 * y, [&](int at) { return guide.row(at); }, meanGuide.data());
            means.mean(2 * y, squareRow, meanSquare.data());
            lineRow(meanGuide.data(), meanSquare.data(), meanGuide.data(), meanSquare.data(), eps,
                    room, slope.data());
            offsetRow(meanGuide.data(), slope.data(), room, meanGuide.data());
        }
        ofSlopes.push(y < height ? slope.data() : nullptr);
        ofOffsets.push(y < height ? meanGuide.data() : nullptr);
        if (const int made = y - half.radius(); made >= 0) {
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
