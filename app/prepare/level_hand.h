#pragma once

#include "commands/session.h"
#include "geometry/drawn_lines.h"
#include "view/hand.h"

namespace buttonhole::app
{

/// Lines drawn along what should be level or upright straighten the photo; a second one of the same
/// kind sets the camera's tilt as well.
class LevelHand : public Hand
{
    Q_OBJECT
public:
    LevelHand(Session &session, QObject *parent) : Hand(parent), m_session(session) {}

    void setActive(bool active);
    bool isActive() const override { return m_isActive && m_session.hasPhoto(); }
    bool showsWhole() const override { return isActive(); }
    int lineCount() const { return int(m_lines.size()); }

    void press(const QPointF &at, const ViewTransform &view) override;
    void drag(const QPointF &at, const ViewTransform &view) override;
    void release() override;
    bool drop() override;
    bool key(const QKeyEvent &event) override;
    Qt::CursorShape cursorAt(const QPointF &, const ViewTransform &) const override
    {
        return Qt::CrossCursor;
    }
    void paint(QPainter &painter, const ViewTransform &view, const QColor &surround) const override;

private:
    Session &m_session;
    bool m_isActive = false;
    bool m_isDrawing = false;
    std::vector<DrawnLine> m_lines; ///< the last one while it is drawn, too
};

} // namespace buttonhole::app
