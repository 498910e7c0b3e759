#pragma once

#include "tone/grey_mix.h"

#include <QWidget>

#include <array>

namespace buttonhole::app
{

/// The hue curve over the photo's hues. A click puts a point, dragging moves it, the wheel (with
/// the focus) makes it wider or narrower, double-click or Delete takes it away. Keys: Left and
/// Right choose a point, Up and Down move it, Ctrl+Left and Ctrl+Right turn its hue, + and - change
/// its width, Insert puts one where the photo has most colour without a point.
class HueCurveEditor : public QWidget
{
    Q_OBJECT
public:
    explicit HueCurveEditor(QWidget *parent = nullptr);

    void setHues(const std::array<float, 360> &hues);
    void setPoints(const std::vector<HuePoint> &points);
    const std::vector<HuePoint> &points() const { return m_points; }
    int chosen() const { return m_chosen; }
    void choose(int index);
    /// Widget position of a hue (degrees) and value.
    QPointF at(double hueDeg, double value) const;

    QSize sizeHint() const override { return {268, 138}; }
    QSize minimumSizeHint() const override { return {180, 138}; }

Q_SIGNALS:
    void pointsChanged(const std::vector<buttonhole::HuePoint> &points);
    void released(); ///< a drag or key is done
    void chosenChanged();

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    QRectF plot() const;
    int pointAt(const QPointF &position) const;
    void moveChosen(float hueDeg, float value);
    void widen(float factor);
    void removeChosen();
    void insertAtPeak();
    void change();

    std::vector<HuePoint> m_points;
    std::array<float, 360> m_hues{};
    int m_chosen = -1;
    bool m_isDragging = false;
};

} // namespace buttonhole::app
