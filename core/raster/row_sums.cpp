#include "raster/row_sums.h"

namespace buttonhole
{

RingSums::RingSums(const std::vector<float> &weights, int width)
    : m_weights(weights), m_width(width), m_ring((2 * weights.size() - 1) * size_t(width), 0.0F),
      m_before(weights.size() - 1, nullptr), m_after(weights.size() - 1, nullptr)
{
    const size_t count = 2 * weights.size() - 1;
    for (size_t i = 0; i < 2 * count; ++i)
        m_rows.push_back(m_ring.data() + (i % count) * size_t(width));
}

float *RingSums::push(const float *values)
{
    float *to = m_rows[size_t(m_next)];
    sumAlong(m_weights.data(), size_t(radius()), values + radius(), m_width, to);
    m_next = m_next == 2 * radius() ? 0 : m_next + 1;
    return to;
}

void RingSums::sum(float *to)
{
    float *const *middle = m_rows.data() + m_next + radius();
    for (int k = 0; k < radius(); ++k) {
        m_before[size_t(k)] = middle[-(k + 1)];
        m_after[size_t(k)] = middle[k + 1];
    }
    sumPairs(m_weights.data(), m_before.size(), *middle, m_before.data(), m_after.data(), m_width,
             to);
}

} // namespace buttonhole
