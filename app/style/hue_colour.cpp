#include "style/hue_colour.h"

#include "colour/oklab.h"
#include "colour/profile.h"
#include "colour/srgb_curve.h"

#include <algorithm>

namespace buttonhole::app
{

QColor colourOfHue(double hueDeg, double lightness, double chroma)
{
    const double angle = hueDeg * 3.14159265358979323846 / 180;
    const Vector3 rgb = inverse(Profile::srgb().toXyz()) *
                        toXyz({lightness, chroma * std::cos(angle), chroma * std::sin(angle)});
    const auto code = [](double v) { return float(srgbCode(std::clamp(v, 0.0, 1.0))); };
    return QColor::fromRgbF(code(rgb[0]), code(rgb[1]), code(rgb[2]));
}

} // namespace buttonhole::app
