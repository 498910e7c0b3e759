#include "canvas/view_transform.h"

#include <cmath>

namespace buttonhole::app
{

void ViewTransform::setPhoto(int width, int height)
{
    m_width = width;
    m_height = height;
    fit();
}

void ViewTransform::setCanvas(QSize size, double devicePixelRatio)
{
    const QPointF middle = centre();
    m_canvas = size;
    m_ratio = devicePixelRatio;
    if (m_fitted)
        fit();
    else
        restore(m_scale, middle);
}

double ViewTransform::fitScale() const
{
    if (m_width == 0 || m_canvas.isEmpty())
        return 1;
    const double across = std::max(1.0, m_canvas.width() - 2 * kFitMargin) / m_width;
    const double down = std::max(1.0, m_canvas.height() - 2 * kFitMargin) / m_height;
    return std::min(std::min(across, down) * m_ratio, kMostScale);
}

void ViewTransform::fit()
{
    m_fitted = true;
    m_scale = fitScale();
    settle();
}

void ViewTransform::zoomTo(double scale, const QPointF &keepAt)
{
    const QPointF photo = toPhoto(keepAt);
    m_scale = std::clamp(scale, std::min(kLeastScale, fitScale()), kMostScale);
    m_origin = keepAt - photo * logicalScale();
    m_fitted = false;
    settle();
}

void ViewTransform::panBy(const QPointF &widgetDelta)
{
    m_origin += widgetDelta;
    m_fitted = false;
    settle();
}

void ViewTransform::restore(double scale, const QPointF &centre)
{
    m_fitted = false;
    m_scale = std::clamp(scale, kLeastScale, kMostScale);
    m_origin = QPointF(m_canvas.width() / 2.0, m_canvas.height() / 2.0) - centre * logicalScale();
    settle();
}

QPointF ViewTransform::centre() const
{
    return toPhoto({m_canvas.width() / 2.0, m_canvas.height() / 2.0});
}

void ViewTransform::settle()
{
    // A photo smaller than the canvas is centred; a larger one may be moved until its edge is in
    // the middle, so that corners can be worked on comfortably.
    const double k = logicalScale();
    const auto settled = [&](double origin, double photo, double canvas) {
        const double size = photo * k;
        if (size <= canvas - 2)
            return (canvas - size) / 2;
        return std::clamp(origin, canvas / 2 - size, canvas / 2);
    };
    m_origin = {settled(m_origin.x(), m_width, m_canvas.width()),
                settled(m_origin.y(), m_height, m_canvas.height())};
    // Whole device pixels keep 100 % and above free of interpolation.
    m_origin = {std::round(m_origin.x() * m_ratio) / m_ratio,
                std::round(m_origin.y() * m_ratio) / m_ratio};
}

int ViewTransform::level(int count) const
{
    const int fine = m_scale >= 1 ? 0 : int(std::floor(-std::log2(m_scale)));
    return std::clamp(fine, 0, count - 1);
}

Rect ViewTransform::visible(int level) const
{
    const QPointF a = toPhoto({0, 0});
    const QPointF b = toPhoto({double(m_canvas.width()), double(m_canvas.height())});
    const Rect photo{int(std::floor(a.x())), int(std::floor(a.y())), int(std::ceil(b.x())),
                     int(std::ceil(b.y()))};
    return atLevel(intersected(photo, {0, 0, m_width, m_height}), level);
}

} // namespace buttonhole::app
