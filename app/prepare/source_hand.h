#pragma once

#include "commands/session.h"
#include "view/hand.h"

namespace buttonhole::app
{

/// A box drawn on the canvas: the part of the photo that a removal is filled from.
class SourceHand : public Hand
{
    Q_OBJECT
public:
    SourceHand(Session &session, QObject *parent) : Hand(parent), m_session(session) {}

    void setActive(bool active);
    bool isActive() const override { return m_isActive && m_session.removal(); }
    void press(const QPointF &at, const ViewTransform &view) override;
    void drag(const QPointF &at, const ViewTransform &view) override;
    void release() override;
    bool drop() override;
    Qt::CursorShape cursorAt(const QPointF &, const ViewTransform &) const override
    {
        return Qt::CrossCursor;
    }
    void paint(QPainter &painter, const ViewTransform &view, const QColor &surround) const override;

private:
    Session &m_session;
    bool m_isActive = false;
    std::optional<QPointF> m_from; ///< px of the photo; of a drag that is under way
    Rect m_box;
};

} // namespace buttonhole::app
