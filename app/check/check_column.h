#pragma once

#include "check/pick_glass.h"

#include <QWidget>

class QLabel;
class QListWidget;
class QToolButton;

namespace buttonhole::app
{

/// The right column: the pick glass and what was done so far.
class CheckColumn : public QWidget
{
    Q_OBJECT
public:
    CheckColumn(Session &session, Canvas &canvas, QWidget *parent = nullptr);
    PickGlass &glass() { return *m_glass; }

protected:
    void paintEvent(QPaintEvent *event) override;
    void changeEvent(QEvent *event) override;

private:
    void refreshHistory();
    void refreshOptions();

    Session &m_session;
    PickGlass *m_glass;
    QToolButton *m_zoom;
    QToolButton *m_what;
    QLabel *m_historyTitle;
    QListWidget *m_history;
};

} // namespace buttonhole::app
