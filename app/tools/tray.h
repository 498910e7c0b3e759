#pragma once

#include "tools/toolbox.h"

#include <QWidget>

#include <functional>

class QHBoxLayout;
class QStackedWidget;
class QToolButton;

namespace buttonhole::app
{

class HelpText;
class Slider;

/// Along the bottom: the tools, and the options of the one in hand.
class Tray : public QWidget
{
    Q_OBJECT
public:
    explicit Tray(Toolbox &toolbox, QWidget *parent = nullptr);
    /// With Grey selected no tool is in hand: words take the place of their options.
    void setGrey(bool isGrey);

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
    /// Buttons for the ways to use a tool; one is down, the first to begin with.
    /// @param choices their text and tooltip
    void addChoice(QWidget *page, const QList<std::pair<QString, QString>> &choices,
                   const std::function<void(int index)> &choose);
    void refresh();
    /// What to do next with the tool in hand.
    void refreshHelp();
    Slider *addSlider(QWidget *page, const QString &name, const QString &help, float Tip::*member,
                      double factor, double least, double most, double initial);

    Toolbox &m_toolbox;
    QMap<Tool *, QToolButton *> m_pills;
    QMap<Tool *, QWidget *> m_pages;
    QMap<Tool *, HelpText *> m_helps;
    QList<QToolButton *> m_signs;
    QStackedWidget *m_options = nullptr;
    QWidget *m_greyPage = nullptr;
    bool m_isGrey = false;
    struct Bound {
        Slider *slider;
        float Tip::*member;
        double factor;
    };
    QList<Bound> m_sliders;
    QToolButton *m_pressure = nullptr;
};

} // namespace buttonhole::app
