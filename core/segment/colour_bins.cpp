#include "segment/colour_bins.h"

#include <algorithm>
#include <iterator>

namespace buttonhole
{

int ColourBins::binOf(float L, float a, float b)
{
    constexpr float kDark = 0.15F;     // what is as dark as that has noise instead of a hue
    constexpr float kMostShare = 0.6F; // chroma by lightness that is told apart
    const auto bin = [](float v, int n) { return std::clamp(int(v * float(n)), 0, n - 1); };
    const auto chromaBin = [&](float v) {
        return bin(0.5F + v / (2 * kMostShare * (std::max(L, 0.0F) + kDark)), kChroma);
    };
    return (bin(L, kLightness) * kChroma + chromaBin(a)) * kChroma + chromaBin(b);
}

void ColourBins::add(int bin, float weight)
{
    constexpr float kBeside = 0.4F;
    constexpr int kSteps[] = {1, kChroma, kChroma * kChroma};
    m_counts.resize(size_t(kBins));
    m_counts[size_t(bin)] += weight;
    for (const int step : kSteps)
        for (const int at : {bin - step, bin + step})
            if (at >= 0 && at < kBins)
                m_counts[size_t(at)] += kBeside * weight;
    m_sum += (1 + 2 * kBeside * float(std::size(kSteps))) * weight;
}

void ColourBins::add(const ColourBins &other, float share)
{
    if (other.m_counts.empty())
        return;
    m_counts.resize(size_t(kBins));
    for (size_t i = 0; i < m_counts.size(); ++i)
        m_counts[i] += share * other.m_counts[i];
    m_sum += share * other.m_sum;
}

} // namespace buttonhole
