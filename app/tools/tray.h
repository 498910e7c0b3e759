#pragma once

#include "tools/toolbox.h"

#include <QWidget>

class QHBoxLayout;
class QStackedWidget;
class QToolButton;

namespace buttonhole::app
{

class HelpText;

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
    void addPage(Tool &tool, const ToolKind &kind);
    void refresh();
    /// What to do next with the tool in hand.
    void refreshHelp();

    Toolbox &m_toolbox;
    QMap<Tool *, QToolButton *> m_pills;
    QMap<Tool *, QWidget *> m_pages;
    QMap<Tool *, HelpText *> m_helps;
    QList<QToolButton *> m_signs;
    QStackedWidget *m_options = nullptr;
    QWidget *m_greyPage = nullptr;
    bool m_isGrey = false;
};

} // namespace buttonhole::app
