#include "segment/held_colours.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

void HeldColours::add(const HeldColours &other, float share)
{
    m_seen.add(other.m_seen, share);
    m_passed.add(other.m_passed, share);
}

float HeldColours::logit(int bin) const
{
    constexpr float kRare = 0.06F; // the less of the looks, the less being passed by says
    constexpr float kUnseen = 2e-5F;
    constexpr float kSurely = 0.98F;
    const auto share = [&](const ColourBins &of) {
        return of.sum() > 0 ? of.at(bin) / of.sum() : 0;
    };
    const float seen = share(m_seen);
    const float expected = seen * seen / (seen + kRare);
    const float belongs =
        std::clamp((share(m_passed) + kUnseen) / (expected + kUnseen), 1 - kSurely, kSurely);
    return std::log(belongs / (1 - belongs));
}

} // namespace buttonhole
