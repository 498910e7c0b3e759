#pragma once

#include "colour/pixel_rows.h"

namespace buttonhole
{

/// How the balance of white is counted: both ways from as taken, 1 = 200 mired and 0.03 Duv.
struct WhiteBalance {
    double temperature = 0;  ///< above 0: towards amber
    double greenMagenta = 0; ///< above 0: towards magenta
};

/// Linear RGB to linear RGB; a grey keeps its luminance.
/// Method: gains of Bradford's cones, as in ICC.1:2022 annex E, whose logarithms are linear in the
/// mired of the light (Wien's approximation of Planck's law) and in the distance from the locus.
Matrix3 balanceMatrix(double temperature, double greenMagenta, const LightSpace &space);

/// The balance under which this light is neutral. @param rgb linear, all above 0
WhiteBalance balanceFor(const Vector3 &rgb, const LightSpace &space);

} // namespace buttonhole
