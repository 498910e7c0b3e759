#pragma once

#include <QColor>

namespace buttonhole::app
{

/// A hue as a colour of the screen (sRGB), by OKLCh.
QColor colourOfHue(double hueDeg, double lightness = 0.68, double chroma = 0.13);

} // namespace buttonhole::app
