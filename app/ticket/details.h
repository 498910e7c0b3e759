#pragma once

#include "commands/session.h"

#include <QWidget>

class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QToolButton;

namespace buttonhole::app
{

class Slider;

/// Under the ticket: what can be set of the selected line.
class Details : public QWidget
{
    Q_OBJECT
public:
    Details(Session &session, QWidget *parent = nullptr);
    void startRenaming();

private:
    void refresh();
    void addKeepControls();
    void addStepControls();

    Session &m_session;
    QLabel *m_title;
    QLabel *m_text;
    QWidget *m_keepPart;
    QLineEdit *m_name = nullptr;
    Slider *m_strength = nullptr;
    QCheckBox *m_invert = nullptr;
    QWidget *m_stepPart;
    QList<QToolButton *> m_signs;
    QPushButton *m_remove = nullptr;
};

} // namespace buttonhole::app
