#include "view/view_transform.h"

#include <cmath>

namespace buttonhole::app
{

void ViewTransform::setPicture(const PictureMap &map, const QMargins &around)
{
    const bool isElsewhere = m_map.rect() != map.rect();
    const bool isWider = m_around != around;
    m_map = map;
    m_around = around;
    if (isElsewhere || (isWider && m_fitted))
        fit();
    else if (isWider)
        settle();
}

PictureRect ViewTransform::whole() const
{
    const PictureRect r = m_map.rect();
    return {r.x0 - m_around.left(), r.y0 - m_around.top(), r.x1 + m_around.right(),
            r.y1 + m_around.bottom()};
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
    const PictureRect picture = whole();
    if (m_map.rect().isEmpty() || m_canvas.isEmpty())
        return 1;
    const double across = std::max(1.0, m_canvas.width() - 2 * kFitMargin) / picture.width();
    const double down = std::max(1.0, m_canvas.height() - 2 * kFitMargin) / picture.height();
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
    const PicturePoint at = toPicture(keepAt);
    m_scale = std::clamp(scale, std::min(kLeastScale, fitScale()), kMostScale);
    m_origin = keepAt - QPointF(at.x, at.y) * logicalScale();
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
    const PicturePoint at = m_map.toPicture(centre.x(), centre.y());
    m_origin = QPointF(m_canvas.width() / 2.0, m_canvas.height() / 2.0) -
               QPointF(at.x, at.y) * logicalScale();
    settle();
}

QPointF ViewTransform::centre() const
{
    return toPhoto({m_canvas.width() / 2.0, m_canvas.height() / 2.0});
}

void ViewTransform::settle()
{
    // A picture smaller than the canvas is centred; a larger one may be moved until its edge is in
    // the middle, so that corners can be worked on comfortably.
    const double k = logicalScale();
    const auto settled = [&](double origin, double from, double to, double canvas) {
        const double size = (to - from) * k;
        if (size <= canvas - 2)
            return (canvas - size) / 2 - from * k;
        return std::clamp(origin, canvas / 2 - size - from * k, canvas / 2 - from * k);
    };
    const PictureRect picture = whole();
    m_origin = {settled(m_origin.x(), picture.x0, picture.x1, m_canvas.width()),
                settled(m_origin.y(), picture.y0, picture.y1, m_canvas.height())};
    // Whole device pixels keep 100 % and above free of interpolation.
    m_origin = {std::round(m_origin.x() * m_ratio) / m_ratio,
                std::round(m_origin.y() * m_ratio) / m_ratio};
}

int ViewTransform::level(int count) const
{
    const int fine = m_scale >= 1 ? 0 : int(std::floor(-std::log2(m_scale)));
    return std::clamp(fine, 0, count - 1);
}

PictureRect ViewTransform::visible(int level) const
{
    const PicturePoint a = toPicture({0, 0});
    const PicturePoint b = toPicture({double(m_canvas.width()), double(m_canvas.height())});
    const PictureRect seen{int(std::floor(a.x)), int(std::floor(a.y)), int(std::ceil(b.x)),
                           int(std::ceil(b.y))};
    return intersected(atLevel(intersected(seen, m_map.rect()), level), m_map.rect(level));
}

} // namespace buttonhole::app
