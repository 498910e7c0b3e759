#include "segment/held_colours.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kLightness = 12;
constexpr int kChroma = 24;
constexpr int kBins = kLightness * kChroma * kChroma;
constexpr float kMostChroma = 0.36F; ///< of a and b that are told apart

} // namespace

int HeldColours::binOf(float L, float a, float b)
{
    const auto bin = [](float v, int n) { return std::clamp(int(v * float(n)), 0, n - 1); };
    const auto chromaBin = [&](float v) {
        return bin((v + kMostChroma) / (2 * kMostChroma), kChroma);
    };
    return (bin(L, kLightness) * kChroma + chromaBin(a)) * kChroma + chromaBin(b);
}

void HeldColours::add(int bin, bool belongs, float weight)
{
    constexpr float kBeside = 0.4F;
    constexpr int kSteps[] = {1, kChroma, kChroma * kChroma};
    Histogram &to = belongs ? m_own : m_other;
    to.bins.resize(size_t(kBins), 0.0F);
    to.bins[size_t(bin)] += weight;
    for (const int step : kSteps)
        for (const int at : {bin - step, bin + step})
            if (at >= 0 && at < kBins)
                to.bins[size_t(at)] += kBeside * weight;
    to.sum += (1 + 2 * std::size(kSteps) * kBeside) * weight;
}

bool HeldColours::knowsBoth() const
{
    constexpr float kEnough = 200;
    return m_own.sum > kEnough && m_other.sum > kEnough;
}

float HeldColours::logit(int bin) const
{
    constexpr float kUnseen = 2e-4F;
    const auto share = [&](const Histogram &in) {
        return in.bins.empty() ? kUnseen : in.bins[size_t(bin)] / in.sum + kUnseen;
    };
    return std::log(share(m_own) / share(m_other));
}

} // namespace buttonhole
