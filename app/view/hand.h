#pragma once

#include "view/view_transform.h"

#include <QObject>

class QKeyEvent;
class QPainter;

namespace buttonhole::app
{

/// What takes the pointer on the canvas, instead of a tool, while its line of the ticket wants it.
/// Places are logical px of the canvas.
class Hand : public QObject
{
    Q_OBJECT
public:
    using QObject::QObject;

    virtual bool isActive() const = 0;
    virtual void press(const QPointF &at, const ViewTransform &view) = 0;
    virtual void drag(const QPointF &at, const ViewTransform &view) = 0;
    virtual void release() = 0;
    /// Esc: the unfinished move is dropped; false where there is none.
    virtual bool drop() = 0;
    /// A key that the canvas got; false where it is nothing to this.
    virtual bool key(const QKeyEvent &) { return false; }
    /// It takes that key from the window's shortcuts.
    virtual bool takesKey(const QKeyEvent &) const { return false; }
    virtual Qt::CursorShape cursorAt(const QPointF &at, const ViewTransform &view) const = 0;
    virtual void paint(QPainter &, const ViewTransform &, const QColor & /*surround*/) const {}
    /// The whole photo is to be seen, whatever its crop.
    virtual bool showsWhole() const { return false; }

Q_SIGNALS:
    void changed(); ///< active or not, or what it paints
};

} // namespace buttonhole::app
