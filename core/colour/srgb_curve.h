#pragma once

#include <cmath>

namespace buttonhole
{

/// sRGB's transfer curve (IEC 61966-2-1): the code of a linear value, both 0..1.
template <class Real>
Real srgbCode(Real linear)
{
    return linear <= Real(0.0031308) ? Real(12.92) * linear
                                     : Real(1.055) * std::pow(linear, 1 / Real(2.4)) - Real(0.055);
}

/// The linear value of an sRGB code, both 0..1.
template <class Real>
Real srgbLinear(Real code)
{
    return code <= Real(0.04045) ? code / Real(12.92)
                                 : std::pow((code + Real(0.055)) / Real(1.055), Real(2.4));
}

} // namespace buttonhole
