#include "segment/held_colours.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kLightness = 4; ///< bins: shading must not tell apart what is of one colour
constexpr int kChroma = 48;   ///< of a and b each, in proportion to lightness
constexpr int kBins = kLightness * kChroma * kChroma;
constexpr float kBeside = 0.4F; ///< a sample also counts so much in the bins next to its own
constexpr int kSteps[] = {1, kChroma, kChroma *kChroma};

} // namespace

int HeldColours::binOf(float L, float a, float b)
{
    constexpr float kDark = 0.15F; // what is as dark as that has noise instead of a hue
    constexpr float kMost = 0.6F;  // chroma by lightness that is told apart
    const auto bin = [](float v, int n) { return std::clamp(int(v * float(n)), 0, n - 1); };
    const auto chromaBin = [&](float v) {
        return bin(0.5F + v / (2 * kMost * (std::max(L, 0.0F) + kDark)), kChroma);
    };
    return (bin(L, kLightness) * kChroma + chromaBin(a)) * kChroma + chromaBin(b);
}

HeldColours::HeldColours()
{
    for (Histogram *histogram : {&m_seen, &m_passed})
        histogram->bins.resize(size_t(kBins));
}

void HeldColours::fade()
{
    constexpr float kStays = 0.8F;
    for (Histogram *histogram : {&m_seen, &m_passed}) {
        for (float &count : histogram->bins)
            count *= kStays;
        histogram->sum *= kStays;
    }
}

void HeldColours::Histogram::add(int bin)
{
    bins[size_t(bin)] += 1;
    for (const int step : kSteps)
        for (const int at : {bin - step, bin + step})
            if (at >= 0 && at < kBins)
                bins[size_t(at)] += kBeside;
    sum += 1 + 2 * kBeside * float(std::size(kSteps));
}

float HeldColours::Histogram::share(int bin) const
{
    constexpr float kUnseen = 4e-4F; // what is rare says little
    return (sum > 0 ? bins[size_t(bin)] / sum : 0) + kUnseen;
}

void HeldColours::see(int bin)
{
    m_seen.add(bin);
}

void HeldColours::pass(int bin)
{
    m_passed.add(bin);
}

float HeldColours::logit(int bin) const
{
    constexpr float kSurely = 0.98F;
    const float belongs = std::clamp(m_passed.share(bin) / m_seen.share(bin), 1 - kSurely, kSurely);
    return std::log(belongs / (1 - belongs));
}

} // namespace buttonhole
