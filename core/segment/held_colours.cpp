#include "segment/held_colours.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

void HeldColours::fade()
{
    constexpr float kStays = 0.8F;
    m_seen.fade(kStays);
    m_passed.fade(kStays);
}

float HeldColours::logit(int bin) const
{
    constexpr float kUnseen = 4e-4F; // what is rare says little
    constexpr float kSurely = 0.98F;
    const auto share = [&](const ColourBins &of) {
        return (of.sum() > 0 ? of.at(bin) / of.sum() : 0) + kUnseen;
    };
    const float belongs = std::clamp(share(m_passed) / share(m_seen), 1 - kSurely, kSurely);
    return std::log(belongs / (1 - belongs));
}

} // namespace buttonhole
