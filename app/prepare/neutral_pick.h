#pragma once

#include "commands/session.h"
#include "view/hand.h"

namespace buttonhole::app
{

/// One press on something that is to be neutral: the light's balance follows.
class NeutralPick : public Hand
{
    Q_OBJECT
public:
    NeutralPick(Session &session, QObject *parent) : Hand(parent), m_session(session) {}

    void setActive(bool active);
    bool isActive() const override { return m_isActive; }
    void press(const QPointF &at, const ViewTransform &view) override;
    void drag(const QPointF &at, const ViewTransform &view) override { press(at, view); }
    void release() override;
    bool drop() override;
    Qt::CursorShape cursorAt(const QPointF &, const ViewTransform &) const override
    {
        return Qt::CrossCursor;
    }

private:
    Session &m_session;
    bool m_isActive = false;
    bool m_hasPicked = false;
};

} // namespace buttonhole::app
