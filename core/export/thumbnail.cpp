#include "export/thumbnail.h"

#include "io/jpeg.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kSamples = 4; ///< along a side of the small picture's pixel

int stepFor(int width, int height, int longEdgePx)
{
    return std::max(1, std::max(width, height) / (kSamples * longEdgePx));
}

/// How many samples lie on a side: in the middle of each step.
int samplesOf(int size, int step)
{
    return (size - step / 2 + step - 1) / step;
}

int scaled(int size, int longEdge, int longEdgePx)
{
    const double scale = std::min(1.0, double(longEdgePx) / longEdge);
    return std::max(1, int(std::lround(size * scale)));
}

} // namespace

Thumbnail::Thumbnail(int width, int height, int longEdgePx, const Profile &profile)
    : m_width(width), m_step(stepFor(width, height, longEdgePx)),
      m_reducer(samplesOf(width, m_step), samplesOf(height, m_step),
                scaled(width, std::max(width, height), longEdgePx),
                scaled(height, std::max(width, height), longEdgePx), profile, Profile::srgb()),
      m_samples(size_t(samplesOf(width, m_step)) * 3),
      m_small(scaled(width, std::max(width, height), longEdgePx),
              scaled(height, std::max(width, height), longEdgePx), 3)
{
}

void Thumbnail::addRows(const uint8_t *rows, int count, int bits)
{
    const size_t stride = size_t(m_width) * 3;
    const auto sample = [&](const auto *row, unsigned factor) {
        for (size_t i = 0; i < m_samples.size() / 3; ++i) {
            const size_t x = size_t(m_step / 2) + i * size_t(m_step);
            for (size_t c = 0; c < 3; ++c)
                m_samples[i * 3 + c] = uint16_t(row[x * 3 + c] * factor);
        }
    };
    for (int y = 0; y < count; ++y, ++m_row) {
        if (m_row % m_step != m_step / 2)
            continue;
        if (bits == 8)
            sample(rows + size_t(y) * stride, 257U);
        else
            sample(reinterpret_cast<const uint16_t *>(rows) + size_t(y) * stride, 1U);
        m_reducer.addRow(m_samples.data(), [&](const uint16_t *codes) {
            for (size_t i = 0; i < m_small.stride(); ++i)
                m_small.row(m_done)[i] = uint8_t((uint32_t(codes[i]) * 255U + 32767U) / 65535U);
            ++m_done;
        });
    }
}

std::vector<uint8_t> Thumbnail::jpeg() const
{
    PictureSpec spec;
    spec.width = m_small.width();
    spec.height = m_small.height();
    spec.quality = 85;
    auto out = encodeJpeg(m_small, spec);
    return out ? std::move(*out) : std::vector<uint8_t>();
}

} // namespace buttonhole
