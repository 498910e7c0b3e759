#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "prepare/level_hand.h"

#include <QWidget>

class QLabel;
class QToolButton;

namespace buttonhole::app
{

class Slider;

/// How the photo is straightened: by numbers, by drawn lines, by itself.
class StraightenPanel : public QWidget
{
    Q_OBJECT
public:
    StraightenPanel(Session &session, Jobs &jobs, QWidget *parent);

    LevelHand &hand() { return m_hand; }
    void refresh();

Q_SIGNALS:
    void canvasAsked();                ///< a line is to be drawn there
    void cornersAllowed(bool allowed); ///< the crop may hold what no photo fills

private:
    void addButtons();
    void addNumbers();
    void edit(const QString &text, const Straightening &to, const QString &mergeKey = {});
    void findAngle();
    void say(const QString &what);

    Session &m_session;
    Jobs &m_jobs;
    LevelHand m_hand;
    QToolButton *m_draw = nullptr;
    QToolButton *m_find = nullptr;
    QLabel *m_said = nullptr;
    QList<Slider *> m_numbers;
    Rect m_cropBefore; ///< as it was when a slider was taken up: it is cut from that
    bool m_isDragging = false;
    std::stop_source m_finding;
};

} // namespace buttonhole::app
