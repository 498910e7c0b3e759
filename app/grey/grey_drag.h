#pragma once

#include "commands/session.h"

#include <QColor>
#include <QPointF>

namespace buttonhole::app
{

/// Steers the grey of a hue on the picture itself: a press takes hold of the hue under the pointer,
/// dragging up lifts its grey, dragging down lowers it.
class GreyDrag : public QObject
{
    Q_OBJECT
public:
    explicit GreyDrag(Session &session, QObject *parent = nullptr)
        : QObject(parent), m_session(session)
    {
    }

    /// The Grey line is selected: the canvas's pointer is this tool's.
    bool isActive() const;
    /// False where the photo has no hue to take hold of.
    bool press(const QPointF &photo);
    /// @param up logical px since the press
    void drag(double up);
    void release();
    /// Esc: as it was at the press.
    void drop();
    bool isDragging() const { return m_isDragging; }
    /// The hue at a photo position as a colour to show; invalid for neutrals.
    QColor hueAt(const QPointF &photo) const;
    /// Place of the dragged point in the mix's hue curve, or -1.
    int point() const { return m_isDragging ? int(m_point) : -1; }

private:
    Session &m_session;
    bool m_isDragging = false;
    bool m_hasMoved = false;
    GreyMix m_start;
    size_t m_point = 0;
};

} // namespace buttonhole::app
