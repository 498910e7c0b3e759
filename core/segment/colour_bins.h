#pragma once

#include <cstddef>
#include <vector>

namespace buttonhole
{

/// Counts of colours in coarse bins in which the same colour in more or less light counts as one:
/// 4 of OKLab's lightness, 48 each of a and b in proportion to it.
class ColourBins
{
public:
    static constexpr int kLightness = 4; ///< shading must not tell apart what is of one colour
    static constexpr int kChroma = 48;
    static constexpr int kBins = kLightness * kChroma * kChroma;

    static int binOf(float L, float a, float b); ///< OKLab

    /// A sample also counts a little in the bins next to its own.
    void add(int bin, float weight = 1);
    /// What another has counted, so much of it.
    void add(const ColourBins &other, float share);
    float at(int bin) const { return m_counts.empty() ? 0 : m_counts[size_t(bin)]; }
    float sum() const { return m_sum; }

private:
    std::vector<float> m_counts; ///< empty: nothing was added
    float m_sum = 0;
};

} // namespace buttonhole
