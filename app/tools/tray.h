#pragma once

#include "tools/toolbox.h"

#include <QWidget>

#include <functional>

class QComboBox;
class QHBoxLayout;
class QStackedWidget;
class QToolButton;

namespace buttonhole::app
{

class Slider;

/// Along the bottom: the tools, and the options of the one in hand.
class Tray : public QWidget
{
    Q_OBJECT
public:
    explicit Tray(Toolbox &toolbox, QWidget *parent = nullptr);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void addTools(QHBoxLayout *row);
    void addSigns(QHBoxLayout *row);
    void addPage(Tool &tool, QWidget *page);
    QWidget *brushPage();
    QWidget *matchPage();
    QWidget *fadePage();
    QWidget *outlinePage();
    /// Two buttons of which one is down.
    void addChoice(QWidget *page, const QString (&texts)[2], const QString (&helps)[2],
                   const std::function<void(bool second)> &choose);
    void refresh();
    Slider *addSlider(QWidget *page, const QString &name, const QString &help, float Tip::*member,
                      double factor, double least, double most, double initial);

    Toolbox &m_toolbox;
    QMap<Tool *, QToolButton *> m_pills;
    QMap<Tool *, QWidget *> m_pages;
    QList<QToolButton *> m_signs;
    QStackedWidget *m_options = nullptr;
    struct Bound {
        Slider *slider;
        float Tip::*member;
        double factor;
    };
    QList<Bound> m_sliders;
    QComboBox *m_pressure = nullptr;
};

} // namespace buttonhole::app
