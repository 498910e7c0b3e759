#include "export/sharpening_writer.h"

#include <algorithm>
#include <vector>

namespace buttonhole
{

namespace
{

constexpr float kMostRaised = 1.5F; ///< of a difference, at an amount of 1

template <class T>
class SharpeningWriter final : public PictureWriter
{
public:
    SharpeningWriter(PictureWriter &to, int width, float amount)
        : m_to(to), m_width(size_t(width)), m_amount(amount * kMostRaised), m_out(m_width * 3)
    {
        for (Row &row : m_rows) {
            row.codes.resize(m_width * 3);
            row.lightness.resize(m_width);
            row.across.resize(m_width);
        }
    }

    Result<void> writeRows(const void *rows, int count) override
    {
        const auto *from = static_cast<const T *>(rows);
        for (int i = 0; i < count; ++i, from += m_width * 3) {
            std::rotate(m_rows, m_rows + 1, m_rows + 3);
            take(m_rows[2], from);
            if (m_taken++ > 0) // the row before has both of its neighbours
                if (auto done = write(m_taken == 2 ? m_rows[1] : m_rows[0], m_rows[1], m_rows[2]);
                    !done)
                    return done;
        }
        return {};
    }
    Result<void> finish() override
    {
        if (m_taken > 0)
            if (auto done = write(m_taken == 1 ? m_rows[2] : m_rows[1], m_rows[2], m_rows[2]);
                !done)
                return done;
        return m_to.finish();
    }

private:
    static constexpr float kMost = sizeof(T) == 1 ? 255 : 65535;
    struct Row {
        std::vector<T> codes;
        std::vector<float> lightness;
        std::vector<float> across; ///< 1 2 1 of it
    };

    void take(Row &row, const T *from) const
    {
        std::copy_n(from, row.codes.size(), row.codes.begin());
        for (size_t x = 0; x < m_width; ++x)
            row.lightness[x] = 0.25F * float(from[3 * x]) + 0.6F * float(from[3 * x + 1]) +
                               0.15F * float(from[3 * x + 2]);
        for (size_t x = 0; x < m_width; ++x)
            row.across[x] = (row.lightness[x == 0 ? 0 : x - 1] + 2 * row.lightness[x] +
                             row.lightness[x + 1 == m_width ? x : x + 1]) /
                            4;
    }

    Result<void> write(const Row &above, const Row &row, const Row &below)
    {
        for (size_t x = 0; x < m_width; ++x) {
            const float mean = (above.across[x] + 2 * row.across[x] + below.across[x]) / 4;
            const float more = m_amount * (row.lightness[x] - mean);
            for (size_t c = 0; c < 3; ++c)
                m_out[3 * x + c] =
                    T(std::clamp(float(row.codes[3 * x + c]) + more, 0.0F, kMost) + 0.5F);
        }
        return m_to.writeRows(m_out.data(), 1);
    }

    PictureWriter &m_to;
    const size_t m_width;
    const float m_amount;
    Row m_rows[3]; ///< the last three
    int m_taken = 0;
    std::vector<T> m_out;
};

} // namespace

std::unique_ptr<PictureWriter> makeSharpeningWriter(PictureWriter &to, int width, int bits,
                                                    float amount)
{
    if (bits == 8)
        return std::make_unique<SharpeningWriter<uint8_t>>(to, width, amount);
    return std::make_unique<SharpeningWriter<uint16_t>>(to, width, amount);
}

} // namespace buttonhole
