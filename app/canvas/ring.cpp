#include "canvas/ring.h"

#include <algorithm>
#include <cmath>

namespace buttonhole::app
{

namespace
{

void blend(QRgb &pixel, int grey, double alpha)
{
    const auto mix = [&](int channel) {
        return int(std::lround(channel + (grey - channel) * alpha));
    };
    pixel = qRgb(mix(qRed(pixel)), mix(qGreen(pixel)), mix(qBlue(pixel)));
}

/// Share of a pixel that a line of this half width covers, by the pixel's distance from its middle.
double coverage(double distance, double halfWidth)
{
    return std::clamp(halfWidth + 0.5 - std::abs(distance), 0.0, 1.0);
}

/// Calls `paint(pixel, distance from the circle, dx, dy)` for all pixels within `reach` of a
/// circle.
template <class Paint>
void along(QImage &picture, const QPointF &centre, double radius, double reach, const Paint &paint)
{
    const double outer = radius + reach;
    const double inner = std::max(0.0, radius - reach);
    const int y0 = std::max(0, int(std::floor(centre.y() - outer)));
    const int y1 = std::min(picture.height() - 1, int(std::ceil(centre.y() + outer)));
    for (int y = y0; y <= y1; ++y) {
        const double dy = y + 0.5 - centre.y();
        if (std::abs(dy) > outer)
            continue;
        const double far = std::sqrt(outer * outer - dy * dy);
        const double near = std::abs(dy) < inner ? std::sqrt(inner * inner - dy * dy) : 0.0;
        auto *row = reinterpret_cast<QRgb *>(picture.scanLine(y));
        const auto span = [&](double from, double to) {
            const int x0 = std::max(0, int(std::floor(from)));
            const int x1 = std::min(picture.width() - 1, int(std::ceil(to)));
            for (int x = x0; x <= x1; ++x) {
                const double dx = x + 0.5 - centre.x();
                paint(row[x], std::hypot(dx, dy) - radius, dx, dy);
            }
        };
        if (near <= 1) { // the two arcs meet
            span(centre.x() - far, centre.x() + far);
        } else {
            span(centre.x() - far, centre.x() - near);
            span(std::max(centre.x() + near, std::ceil(centre.x() - near) + 1), centre.x() + far);
        }
    }
}

} // namespace

void drawRing(QImage &picture, const Ring &ring)
{
    const double half = ring.width / 2;
    along(picture, ring.centre, ring.radius, half + 2,
          [&](QRgb &pixel, double distance, double, double) {
              blend(pixel, 0, 0.6 * coverage(distance, half + ring.width * 0.6));
              blend(pixel, 255, 0.92 * coverage(distance, half));
          });
    if (ring.innerRadius <= 0)
        return;
    // Dots of one line width, two widths apart.
    const double perDot = 3 * ring.width / ring.innerRadius;
    along(picture, ring.centre, ring.innerRadius, 1,
          [&](QRgb &pixel, double distance, double dx, double dy) {
              const double at = std::atan2(dy, dx) / perDot;
              if (at - std::floor(at) < 0.4)
                  blend(pixel, 255, 0.5 * coverage(distance, 0.5));
          });
}

} // namespace buttonhole::app
