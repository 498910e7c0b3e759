#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "mask/colour_window.h"
#include "render/colour_field.h"

#include <QImage>
#include <QTimer>
#include <QWidget>

namespace buttonhole::app
{

/// The photo's colours, hue by lightness, those that are kept lit. The selected Colour window lies
/// over it and is dragged by its middle and its sides; the least chroma by the bar beside it.
/// Without one, a drag across hues makes one.
class ColourFieldView : public QWidget
{
    Q_OBJECT
public:
    ColourFieldView(Session &session, Jobs &jobs, QWidget *parent = nullptr);

    /// Where a hue and a lightness are, px of the widget.
    QPointF placeOf(double hueDeg, double lightness) const;
    QPointF placeOfChroma(double chroma) const;
    bool hasField() const { return m_hasField; }

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void showEvent(QShowEvent *event) override;

private:
    enum class Hold { None, Middle, Left, Right, Top, Bottom, Chroma };
    const ColourWindow *window() const;
    QRectF fieldRect() const;
    QRectF chromaRect() const;
    /// The window's rectangle; it may leave the field at the left or right, where hues go round.
    QRectF windowRect(const ColourWindow &window) const;
    Hold holdAt(const QPointF &at) const;
    void begin(const QPointF &at);
    void drag(const QPointF &at);
    void put(const ColourWindow &changed);
    void measure();
    void draw(const ColourField &field);

    Session &m_session;
    Jobs &m_jobs;
    QTimer m_soon;
    QImage m_image;
    bool m_hasField = false;
    bool m_isMeasuring = false;
    bool m_isStale = false;
    Hold m_hold = Hold::None;
    QPointF m_from;
    ColourWindow m_start;
};

} // namespace buttonhole::app
