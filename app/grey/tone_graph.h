#pragma once

#include "render/grey_statistics.h"

#include <QWidget>

namespace buttonhole::app
{

/// The tones of the grey: what there is before the curve (filled) and after it (line), black,
/// middle and white point under it, and the curve with its free points over it. Keys: Left and
/// Right choose a handle, Up and Down move it, with Ctrl sideways; Insert and Delete for points.
class ToneGraph : public QWidget
{
    Q_OBJECT
public:
    explicit ToneGraph(QWidget *parent = nullptr);

    void setTone(const Tone &tone);
    const Tone &tone() const { return m_tone; }
    void setHistogram(const ToneHistogram &histogram);
    /// Widget position of a curve's point, or of a handle under the graph.
    QPointF at(double x, double y) const;
    QPointF handleAt(int handle) const; ///< 0 black, 1 middle, 2 white

    QSize sizeHint() const override { return {268, 168}; }
    QSize minimumSizeHint() const override { return {180, 168}; }

Q_SIGNALS:
    void toneChanged(const buttonhole::Tone &tone);
    void released();

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    static constexpr int kHandles = 3;
    QRectF plot() const;
    int itemAt(const QPointF &position) const; ///< handles first, then points; -1 none
    void moveItem(int item, const QPointF &to);
    void removeItem(int item);
    void addPoint(CurvePoint point);
    void change();
    void paintHistogram(QPainter &painter) const;
    void paintHandles(QPainter &painter) const;

    Tone m_tone;
    ToneHistogram m_histogram;
    int m_chosen = 0;
    bool m_isDragging = false;
};

} // namespace buttonhole::app
