#pragma once

#include "canvas/canvas.h"

#include <QWidget>

namespace buttonhole::app
{

/// The magnifier: the photo's pixels under the pointer, 2, 4 or 8 times enlarged; result or mask.
class PickGlass : public QWidget
{
    Q_OBJECT
public:
    PickGlass(Session &session, Canvas &canvas, QWidget *parent = nullptr);

    int zoom() const { return m_zoom; }
    void setZoom(int zoom);
    bool showsMask() const { return m_showsMask; }
    void setShowsMask(bool shows);
    /// What is in the glass, one image pixel per photo pixel.
    QImage picture() const;
    QSize sizeHint() const override { return {220, 160}; }

Q_SIGNALS:
    void optionsChanged();

protected:
    void paintEvent(QPaintEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;

private:
    Rect seen() const; ///< photo px; may reach past the photo
    Session &m_session;
    Canvas &m_canvas;
    QPointF m_at{-1, -1};
    int m_zoom = 4;
    bool m_showsMask = false;
};

} // namespace buttonhole::app
