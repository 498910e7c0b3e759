#pragma once

#include "commands/session.h"
#include "view/hand.h"

namespace buttonhole::app
{

/// Spots mended on the canvas: a click on one mends it, a drag from a mend moves where it is mended
/// from. Mends are shown as rings while the page is open.
class CleanHand : public Hand
{
    Q_OBJECT
public:
    CleanHand(Session &session, QObject *parent);

    void setActive(bool active);
    bool isActive() const override { return m_isActive && m_session.hasPhoto(); }
    void setRadius(float px) { m_radiusPx = px; } ///< of the next spot, px of the photo
    void select(int mend); ///< the one that is shown with its source; -1: none
    int selected() const { return m_selected; }

    void press(const QPointF &at, const ViewTransform &view) override;
    void drag(const QPointF &at, const ViewTransform &view) override;
    void release() override;
    bool drop() override;
    bool key(const QKeyEvent &event) override;
    bool takesKey(const QKeyEvent &event) const override;
    Qt::CursorShape cursorAt(const QPointF &at, const ViewTransform &view) const override;
    void paint(QPainter &painter, const ViewTransform &view, const QColor &surround) const override;

Q_SIGNALS:
    void selectedChanged();

private:
    int mendAt(const QPointF &at, const ViewTransform &view) const;
    void remove();

    Session &m_session;
    bool m_isActive = false;
    float m_radiusPx = 15;
    int m_selected = -1;
    bool m_isDragging = false;
    bool m_hasMoved = false;
    bool m_isNew = false; ///< what is dragged was made by this press
};

} // namespace buttonhole::app
