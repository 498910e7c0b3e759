#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"

#include <QTimer>

namespace buttonhole::app
{

class Details;
class Ticket;

/// The ticket's swatches, found in the background when changes rest: the colour each keep keeps,
/// and the picture of the selected one.
class Swatches : public QObject
{
    Q_OBJECT
public:
    Swatches(Session &session, Jobs &jobs, Ticket &ticket, Details &details, QObject *parent);

private:
    void find();

    Session &m_session;
    Jobs &m_jobs;
    Ticket &m_ticket;
    Details &m_details;
    bool m_isFinding = false;
    QTimer m_rest;
};

} // namespace buttonhole::app
