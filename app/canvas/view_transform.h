#pragma once

#include "base/rect.h"

#include <QPointF>
#include <QRectF>
#include <QSize>
#include <QTransform>

namespace buttonhole::app
{

/// Where the photo lies on the canvas. Widget coordinates are logical px; `scale` counts screen
/// (device) px per photo px, so that 100 % is one photo px on one screen px at any display scale.
class ViewTransform
{
public:
    static constexpr double kLeastScale = 1.0 / 64;
    static constexpr double kMostScale = 32.0;
    static constexpr double kFitMargin = 24; ///< logical px around a fitted photo

    void setPhoto(int width, int height);
    void setCanvas(QSize size, double devicePixelRatio);
    void fit();
    void zoomTo(double scale, const QPointF &keepAt); ///< `keepAt` stays where it is
    void panBy(const QPointF &widgetDelta);
    void restore(double scale, const QPointF &centre);

    bool isFitted() const { return m_fitted; }
    double scale() const { return m_scale; }
    double logicalScale() const { return m_scale / m_ratio; }
    double fitScale() const;
    QPointF toWidget(const QPointF &photo) const { return photo * logicalScale() + m_origin; }
    QTransform toWidget() const
    {
        return {logicalScale(), 0, 0, logicalScale(), m_origin.x(), m_origin.y()};
    }
    QSize canvas() const { return m_canvas; } ///< logical px
    double devicePixelRatio() const { return m_ratio; }
    QPointF toPhoto(const QPointF &widget) const { return (widget - m_origin) / logicalScale(); }
    QPointF centre() const; ///< photo px in the middle of the canvas
    /// The pyramid level whose pixels are at least as fine as the screen's.
    int level(int count) const;
    /// Pixels of that level that are seen.
    Rect visible(int level) const;

private:
    void settle();
    double m_scale = 1;
    double m_ratio = 1;
    QPointF m_origin; ///< of the photo's top-left corner, logical px
    QSize m_canvas;
    int m_width = 0;
    int m_height = 0;
    bool m_fitted = true;
};

} // namespace buttonhole::app
