#pragma once

#include "tools/brush_tool.h"

#include <QWidget>

class QComboBox;
class QToolButton;

namespace buttonhole::app
{

class Slider;

/// Along the bottom: the tools and the options of the chosen one.
class Tray : public QWidget
{
    Q_OBJECT
public:
    explicit Tray(BrushTool &brush, QWidget *parent = nullptr);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void refresh();
    Slider *addSlider(const QString &name, const QString &help, float Tip::*member, double factor,
                      double least, double most, double initial, const QString &unit);

    BrushTool &m_brush;
    QList<QToolButton *> m_signs;
    struct Bound {
        Slider *slider;
        float Tip::*member;
        double factor;
    };
    QList<Bound> m_sliders;
    QComboBox *m_pressure = nullptr;
};

} // namespace buttonhole::app
