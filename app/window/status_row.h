#pragma once

#include "canvas/canvas.h"

#include <QWidget>

class QLabel;
class QProgressBar;
class QToolButton;

namespace buttonhole::app
{

class Actions;

/// The bottom row: view, keys for comparing, zoom, what is under the pointer, background work.
class StatusRow : public QWidget
{
    Q_OBJECT
public:
    StatusRow(Session &session, Canvas &canvas, Jobs &jobs, const Actions &actions,
              QWidget *parent = nullptr);
    /// A passing word at the right end, e.g. that a file was written.
    void say(const QString &text, int ms = 8000);
    QString said() const;
    /// What speaks of the canvas is there only where that is seen.
    void setShowsCanvas(bool shows);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void refreshView();
    void refreshZoom();
    void refreshJob();
    void showPixel(const QPointF &photo);

    Session &m_session;
    Canvas &m_canvas;
    Jobs &m_jobs;
    QToolButton *m_view;
    QLabel *m_hints;
    QToolButton *m_fit;
    QToolButton *m_actual;
    QLabel *m_zoom;
    QLabel *m_dot;
    QLabel *m_pixel;
    QLabel *m_word;
    QProgressBar *m_progress;
    QToolButton *m_stop;
};

QString viewName(View view);

} // namespace buttonhole::app
