#pragma once

#include <QImage>
#include <QPointF>

namespace buttonhole::app
{

/// Blends the outline of the brush's tip onto a picture: a light line with a dark one on either
/// side, and a faint dotted one where the full strength ends. QPainter takes milliseconds for large
/// antialiased circles; this takes time by the length of the line only.
struct Ring {
    QPointF centre;         ///< device px of the picture
    double radius = 0;      ///< device px
    double innerRadius = 0; ///< 0: none
    double width = 1;       ///< device px of the light line
};

/// @param picture Format_RGB32
void drawRing(QImage &picture, const Ring &ring);

} // namespace buttonhole::app
