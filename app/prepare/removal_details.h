#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "prepare/source_hand.h"

#include <QWidget>

class QLabel;
class QToolButton;

namespace buttonhole::app
{

class Slider;

/// The details of a removal: filling it, again and from elsewhere, and how far its mark is grown.
/// Filling runs in the background; an answer is one move.
class RemovalDetails : public QWidget
{
    Q_OBJECT
public:
    RemovalDetails(Session &session, Jobs &jobs, QWidget *parent);

    SourceHand &source() { return m_source; }
    void refresh();

private:
    void addButtons();
    void addGrow();
    /// @param tries more than were made
    void fill(int tries);
    void receive(uint64_t removalId, const Result<Removal> &made);
    bool isFilling() const { return m_filling != 0; }

    Session &m_session;
    Jobs &m_jobs;
    SourceHand m_source;
    QLabel *m_said = nullptr;
    QToolButton *m_fill = nullptr;
    QToolButton *m_again = nullptr;
    QToolButton *m_from = nullptr;
    Slider *m_grow = nullptr;
    std::stop_source m_stop;
    uint64_t m_filling = 0; ///< the removal that is being filled; 0: none
    QString m_problem;      ///< why the last one was not, for the user
    uint64_t m_problemOf = 0;
};

} // namespace buttonhole::app
