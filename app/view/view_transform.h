#pragma once

#include "geometry/picture_map.h"

#include <QMargins>
#include <QPointF>
#include <QRectF>
#include <QSize>

namespace buttonhole::app
{

/// Where the picture lies on the canvas, and with it the photo: tools speak of photo px, whichever
/// way the picture is cropped, mirrored and turned. Widget coordinates are logical px; `scale`
/// counts screen (device) px per photo px, so that 100 % is one photo px on one screen px at any
/// display scale.
class ViewTransform
{
public:
    static constexpr double kLeastScale = 1.0 / 64;
    static constexpr double kMostScale = 32.0;
    static constexpr double kFitMargin = 24; ///< logical px around a fitted picture

    /// Another picture, which is fitted; one of the same size is looked at as the one before.
    /// @param around picture px of what lies round it
    void setPicture(const PictureMap &map, const QMargins &around = {});
    const PictureMap &picture() const { return m_map; }
    void setCanvas(QSize size, double devicePixelRatio);
    void fit();
    void zoomTo(double scale, const QPointF &keepAt); ///< `keepAt` stays where it is
    void panBy(const QPointF &widgetDelta);
    void restore(double scale, const QPointF &centre);

    bool isFitted() const { return m_fitted; }
    double scale() const { return m_scale; }
    double logicalScale() const { return m_scale / m_ratio; }
    double fitScale() const;
    QPointF toWidget(const QPointF &photo) const
    {
        return placeOf(m_map.toPicture(photo.x(), photo.y()));
    }
    // What is told by its type: places and rectangles of the picture or the photo on the widget.
    QPointF placeOf(const PicturePoint &at) const
    {
        return QPointF(at.x, at.y) * logicalScale() + m_origin;
    }
    QRectF boxOf(const PictureRect &r) const
    {
        return {placeOf({double(r.x0), double(r.y0)}), placeOf({double(r.x1), double(r.y1)})};
    }
    QRectF boxOf(const Rect &photo) const { return boxOf(m_map.toPicture(photo)); }
    QSize canvas() const { return m_canvas; } ///< logical px
    double devicePixelRatio() const { return m_ratio; }
    PicturePoint toPicture(const QPointF &widget) const
    {
        const QPointF at = (widget - m_origin) / logicalScale();
        return {at.x(), at.y()};
    }
    QPointF toPhoto(const QPointF &widget) const
    {
        const auto [x, y] = m_map.toPhoto(toPicture(widget));
        return {x, y};
    }
    QPointF centre() const; ///< photo px in the middle of the canvas
    /// The pyramid level whose pixels are at least as fine as the screen's.
    int level(int count) const;
    /// Pixels of that level that are seen.
    PictureRect visible(int level) const;

    friend bool operator==(const ViewTransform &, const ViewTransform &) = default;

private:
    void settle();
    PictureRect whole() const; ///< the picture and what lies round it
    double m_scale = 1;
    double m_ratio = 1;
    PictureMap m_map;
    QMargins m_around;
    QPointF m_origin; ///< of picture space's zero, logical px
    QSize m_canvas;
    bool m_fitted = true;
};

} // namespace buttonhole::app
