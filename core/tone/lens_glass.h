#pragma once

#include "colour/matrix.h"
#include "tone/grey_mix.h"

namespace buttonhole
{

/// What of the light passes a coloured glass, 0..1, at a wavelength in nm. Long-pass glasses
/// (yellow, orange, red) and band-pass ones (green, blue), after the shapes in the catalogues of
/// glass makers (ISO 3534 style edges); thickness follows Beer and Lambert: T = t ^ thickness.
double transmission(Glass glass, double nm, double thickness);

/// The same for the light of the three sRGB primaries, each a Gaussian band (610, 545, 455 nm):
/// linear sRGB behind the glass / in front of it.
Vector3 transmissionOfPrimaries(Glass glass, double thickness);

/// Linear RGB of a space (`toXyz`, D65) before the glass to linear RGB of the same space behind it.
Matrix3 glassMatrix(Glass glass, double thickness, const Matrix3 &toXyz);

} // namespace buttonhole
