#pragma once

#include "base/param.h"

#include <QSlider>

class QLineEdit;

namespace buttonhole::app
{

/// A slider with its name and value above the track. Double-click resets; the wheel works only with
/// the focus; Return or a click on the value types one; Shift makes drags and steps ten times
/// finer.
class Slider : public QSlider
{
    Q_OBJECT
public:
    struct Range {
        double least = 0;
        double most = 100;
        double initial = 100;
        double step = 1; ///< of the arrow keys; values are multiples of step / 10
        bool logarithmic = false;
        QString unit; ///< e.g. " %" or " px"
        int decimals = 0;
        bool showsHues = false; ///< the track shows the hues it stands for, 0..360
        bool eases = false;     ///< finer near 0, coarser far from it; least is 0 or -most

        /// As the core's row of a number says.
        template <class T>
        static Range of(const Param<T> &param)
        {
            return of(param.scale, double(param.leastShown()), double(param.mostShown()),
                      double(param.initial()));
        }
        static Range of(const AnyParam &param)
        {
            return of(param.scale, double(param.leastShown()), double(param.mostShown()),
                      double(param.initial));
        }
        static Range of(const ParamScale &scale, double least, double most, double initial);
    };
    Slider(const QString &name, const Range &range, const QString &help, QWidget *parent = nullptr);

    double amount() const { return m_amount; }
    /// Moves the handle without amountChanged().
    void setAmount(double amount);
    bool isDragging() const { return m_dragging; }
    QString valueText() const; ///< with its unit

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

Q_SIGNALS:
    void amountChanged(double amount);
    void released(); ///< a drag, a typed value or a reset is complete

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    double toFraction(double amount) const;
    double fromFraction(double fraction) const;
    QRectF track() const;
    QRect valueRect() const;
    void change(double amount);
    void edit(const QString &start);

    QString m_name;
    Range m_range;
    double m_amount;
    double m_dragFrom = 0; ///< fraction at the press
    QPointF m_pressed;
    bool m_dragging = false;
    QLineEdit *m_editor = nullptr;
};

} // namespace buttonhole::app
