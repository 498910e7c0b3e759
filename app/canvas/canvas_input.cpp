// The canvas's pointer and keys; painting is in canvas.cpp.
#include "canvas/canvas.h"

#include <QGestureEvent>
#include <QGuiApplication>
#include <QPainter>
#include <QTabletEvent>
#include <QWheelEvent>

#include <cmath>

namespace buttonhole::app
{

PointerEvent Canvas::toPointerEvent(const QPointF &position, double pressure,
                                    Qt::KeyboardModifiers modifiers) const
{
    const QPointF photo = m_transform.toPhoto(position);
    PointerEvent event;
    event.point = {float(photo.x()), float(photo.y()), float(pressure)};
    event.opposite = modifiers.testFlag(Qt::ControlModifier);
    event.fromLastPoint = modifiers.testFlag(Qt::ShiftModifier);
    event.timeMs = m_clock.elapsed();
    event.pixel = 1 / m_transform.logicalScale();
    return event;
}

void Canvas::updateTip(const QPointF &position, bool inside)
{
    const auto area = [&] {
        const QRect tip = tipRect().toAlignedRect().adjusted(-4, -4, 4, 4);
        return QRegion(tip) + tip.translated(int(paneShift()), 0);
    };
    update(area());
    m_pointer = position;
    m_pointerInside = inside;
    update(area());
}

void Canvas::updateCursorShape()
{
    if (m_drag == Drag::Pan)
        setCursor(Qt::ClosedHandCursor);
    else if (m_spaceHeld)
        setCursor(Qt::OpenHandCursor);
    else if (m_drag == Drag::Split || isOnSplitLine(m_pointer))
        setCursor(Qt::SplitHCursor);
    else if (const Hand *hand = activeHand())
        setCursor(hand->cursorAt(m_pointer, m_transform));
    else if (m_grey.isActive())
        setCursor(m_drag == Drag::Grey ? Qt::SizeVerCursor : Qt::CrossCursor);
    else if (m_session.hasPhoto() && m_toolbox.current().hasTip() && tipRect().width() >= 8)
        setCursor(Qt::BlankCursor); // the tip's outline is the cursor
    else if (m_session.hasPhoto())
        setCursor(Qt::CrossCursor);
    else
        setCursor(Qt::ArrowCursor);
}

void Canvas::pointerPressed(const QPointF &position, double pressure,
                            Qt::KeyboardModifiers modifiers)
{
    if (isOnSplitLine(position)) {
        m_drag = Drag::Split;
        return;
    }
    if (m_original)
        return;
    if (Hand *hand = activeHand()) {
        m_drag = Drag::Hand;
        hand->press(position, m_transform);
        return;
    }
    if (m_grey.isActive()) {
        m_dragFrom = position;
        if (m_grey.press(m_transform.toPhoto(position)))
            m_drag = Drag::Grey;
        else
            Q_EMIT hueMissed();
        return;
    }
    m_drag = Drag::Paint;
    if (!m_hint.isEmpty())
        update();
    m_toolbox.current().press(toPointerEvent(position, pressure, modifiers));
}

void Canvas::pointerDragged(const QPointF &position, double pressure,
                            Qt::KeyboardModifiers modifiers)
{
    if (m_drag == Drag::Paint)
        m_toolbox.current().move(toPointerEvent(position, pressure, modifiers));
    else if (m_drag == Drag::Grey)
        m_grey.drag(m_dragFrom.y() - position.y());
    else if (Hand *hand = m_drag == Drag::Hand ? activeHand() : nullptr)
        hand->drag(position, m_transform);
    else if (!m_grey.isActive() && !activeHand())
        m_toolbox.current().hover(toPointerEvent(position, pressure, modifiers));
    updateTip(position, true);
    Q_EMIT pointerMoved(m_transform.toPhoto(position));
}

void Canvas::pointerReleased()
{
    if (m_drag == Drag::Paint)
        m_toolbox.current().release();
    else if (m_drag == Drag::Grey)
        m_grey.release();
    else if (Hand *hand = m_drag == Drag::Hand ? activeHand() : nullptr)
        hand->release();
    m_drag = Drag::None;
    if (!m_hint.isEmpty())
        update();
    settleDraft();
    updateCursorShape();
}

void Canvas::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    if (!takesPointer() || m_drag != Drag::None)
        return;
    const QPointF position = onPane(event->position());
    m_dragFrom = position;
    updateTip(position, true);
    if (event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && m_spaceHeld))
        m_drag = Drag::Pan;
    else if (event->button() == Qt::LeftButton && !m_tabletInUse)
        pointerPressed(position, 1.0, event->modifiers());
    updateCursorShape();
}

void Canvas::mouseMoveEvent(QMouseEvent *event)
{
    if (!takesPointer())
        return;
    const QPointF position = onPane(event->position());
    switch (m_drag) {
    case Drag::Pan:
        m_transform.panBy(position - m_dragFrom);
        m_dragFrom = position;
        m_pointer = position;
        viewMoved();
        break;
    case Drag::Split: {
        Seen seen = m_seen;
        const QRectF picture = m_transform.boxOf(m_transform.picture().rect());
        seen.splitAt = std::clamp((position.x() - picture.left()) / picture.width(), 0.0, 1.0);
        m_pointer = position;
        setSeen(seen);
        break;
    }
    case Drag::None:
    case Drag::Grey:
    case Drag::Hand:
    case Drag::Paint:
        if (m_tabletInUse)
            break;
        pointerDragged(position, 1.0, event->modifiers());
        break;
    }
    updateCursorShape();
}

void Canvas::mouseReleaseEvent(QMouseEvent *event)
{
    if (m_tabletInUse && event->button() == Qt::LeftButton)
        return;
    pointerReleased();
}

void Canvas::tabletEvent(QTabletEvent *event)
{
    if (!takesPointer())
        return;
    const QPointF position = onPane(event->position());
    // Accepted tablet events make no mouse events; Space and the split line work with the pen too.
    switch (event->type()) {
    case QEvent::TabletPress:
        if (event->button() != Qt::LeftButton || m_spaceHeld || m_drag != Drag::None) {
            event->ignore();
            return;
        }
        setFocus(Qt::MouseFocusReason);
        m_tabletInUse = true;
        pointerPressed(position, event->pressure(), event->modifiers());
        break;
    case QEvent::TabletMove:
        if (m_drag == Drag::Pan || m_drag == Drag::Split) {
            event->ignore();
            return;
        }
        pointerDragged(position, event->pressure(), event->modifiers());
        updateCursorShape();
        break;
    case QEvent::TabletRelease:
        m_tabletInUse = false;
        pointerReleased();
        break;
    default:
        break;
    }
    event->accept();
}

void Canvas::wheelEvent(QWheelEvent *event)
{
    if (!takesPointer())
        return;
    const QPointF position = onPane(event->position());
    m_pointer = position;
    m_pointerInside = true;
    const double steps = event->angleDelta().y() / 120.0;
    m_transform.zoomTo(m_transform.scale() * std::pow(1.25, steps), position);
    viewMoved();
    updateCursorShape();
    event->accept();
}

bool Canvas::event(QEvent *event)
{
    if (event->type() == QEvent::Gesture && takesPointer()) {
        auto *gestures = static_cast<QGestureEvent *>(event);
        if (auto *pinch = static_cast<QPinchGesture *>(gestures->gesture(Qt::PinchGesture))) {
            const QPointF at = onPane(mapFromGlobal(pinch->centerPoint()));
            m_transform.zoomTo(m_transform.scale() * pinch->scaleFactor(), at);
            viewMoved();
            return true;
        }
    }
    if (const Hand *hand = activeHand(); event->type() == QEvent::ShortcutOverride && hand &&
                                         hand->takesKey(*static_cast<QKeyEvent *>(event))) {
        event->accept();
        return true;
    }
    if (event->type() == QEvent::ScreenChangeInternal) // moved to a screen of another density
        fitPanes();
    return QWidget::event(event);
}

void Canvas::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Space) {
        if (!event->isAutoRepeat()) {
            m_spaceHeld = true;
            updateCursorShape();
            update();
        }
        return;
    }
    if (Hand *hand = activeHand()) {
        const bool isTaken = event->key() == Qt::Key_Escape ? hand->drop() : hand->key(*event);
        if (!isTaken)
            event->ignore();
        else if (event->key() == Qt::Key_Escape)
            m_drag = Drag::None;
        return;
    }
    const bool drops = event->key() == Qt::Key_Escape || event->matches(QKeySequence::Undo);
    if (drops && (m_toolbox.current().isBusy() || m_toolbox.current().isUnfinished())) {
        m_toolbox.current().drop();
        m_drag = Drag::None;
        settleDraft();
        return;
    }
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) &&
        m_toolbox.current().finishMove())
        return;
    if (drops && m_grey.isDragging()) {
        m_grey.drop();
        m_drag = Drag::None;
        return;
    }
    event->ignore();
}

void Canvas::keyReleaseEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
        m_spaceHeld = false;
        updateCursorShape();
        update();
        return;
    }
    event->ignore();
}

void Canvas::leaveEvent(QEvent *)
{
    updateTip(m_pointer, false);
    Q_EMIT pointerLeft();
}

void Canvas::focusOutEvent(QFocusEvent *)
{
    m_spaceHeld = false;
    updateCursorShape();
}

} // namespace buttonhole::app
