#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "prepare/clean_hand.h"

#include <QWidget>

class QLabel;
class QListWidget;
class QToolButton;

namespace buttonhole::app
{

class Slider;

/// Spots: found by themselves and listed; by hand on the canvas.
class CleanPanel : public QWidget
{
    Q_OBJECT
public:
    CleanPanel(Session &session, Jobs &jobs, QWidget *parent);

    CleanHand &hand() { return m_hand; }
    void refresh();

Q_SIGNALS:
    void lookAsked(const QPointF &photo); ///< a place is to be looked at closely

private:
    void addButtons();
    void addList();
    void addRemove();
    void findSpots();
    void walk(int by);
    void say(const QString &what);

    Session &m_session;
    Jobs &m_jobs;
    CleanHand m_hand;
    QToolButton *m_find = nullptr;
    QToolButton *m_none = nullptr;
    QListWidget *m_list = nullptr;
    QLabel *m_said = nullptr;
    std::vector<SpotMend> m_listed;
    bool m_isRefreshing = false;
    std::stop_source m_finding;
};

} // namespace buttonhole::app
