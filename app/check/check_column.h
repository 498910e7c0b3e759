#pragma once

#include "check/colour_field_view.h"
#include "check/pick_glass.h"

#include <QWidget>

class QLabel;
class QListWidget;
class QToolButton;

namespace buttonhole::app
{

/// The right column: the pick glass, the colour field, and what was done so far.
class CheckColumn : public QWidget
{
    Q_OBJECT
public:
    CheckColumn(Session &session, Canvas &canvas, Jobs &jobs, QWidget *parent = nullptr);
    PickGlass &glass() { return *m_glass; }
    ColourFieldView &colourField() { return *m_colourField; }

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
    QLabel *m_fieldTitle;
    ColourFieldView *m_colourField;
    QLabel *m_historyTitle;
    QListWidget *m_history;
};

} // namespace buttonhole::app
