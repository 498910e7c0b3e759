#pragma once

#include "commands/session.h"
#include "mask/stroke.h"
#include "view/view_transform.h"

#include <QObject>

class QPainter;

namespace buttonhole::app
{

/// The pointer as tools get it, in px of the photo. Plain, so that tests can play it.
struct PointerEvent {
    StrokePoint point;
    bool opposite = false;      ///< Ctrl is held: add and subtract swap for this move
    bool fromLastPoint = false; ///< Shift is held: a straight stroke from the last point
    int64_t timeMs = 0;
    double pixel = 1; ///< photo px to one px of the screen
    PhotoPoint at() const { return {point.x, point.y}; }
};

/// What all tools share: how the next step joins the mask.
struct ToolSign {
    Sign sign = Sign::Add;
    Sign of(bool opposite) const
    {
        return !opposite ? sign : sign == Sign::Subtract ? Sign::Add : Sign::Subtract;
    }
};

/// One way to shape the selected keep's mask with the pointer.
class Tool : public QObject
{
    Q_OBJECT
public:
    Tool(Session &session, const ToolSign &sign, QObject *parent)
        : QObject(parent), m_session(session), m_sign(sign)
    {
        connect(&session, &Session::lineChanged, this, &Tool::marksChanged);
    }

    /// The kind of the steps it makes, e.g. "brush".
    virtual std::string kind() const = 0;
    QString name() const; ///< as its row of toolKinds() says
    /// What to do next with it, one or two short sentences; follows marksChanged().
    virtual QString help() const = 0;
    /// One sentence over the photo while the keep is empty; empty where the tray shows help().
    virtual QString firstHint() const { return {}; }

    virtual void press(const PointerEvent &event) = 0;
    virtual void move(const PointerEvent &event) = 0; ///< with the button held
    virtual void hover(const PointerEvent &) {}       ///< without a button
    virtual void release() = 0;
    /// Esc: the unfinished move is dropped.
    virtual void drop() = 0;
    /// Return: ends a move of several clicks; false where there is none.
    virtual bool finishMove() { return false; }
    virtual bool isBusy() const = 0; ///< the button is held
    /// Between the clicks of a move of several.
    virtual bool isUnfinished() const { return false; }
    /// Another photo, or another tool is taken up.
    virtual void reset() {}
    /// It is in hand now, or the photo is another.
    virtual void takenUp() {}
    /// The keys for a smaller and a larger tip; false where there is nothing to size.
    virtual bool resize(bool) { return false; }
    /// Handles and such over the picture.
    virtual void paintMarks(QPainter &, const ViewTransform &) const {}
    /// The tip's outline stands for the cursor.
    virtual bool hasTip() const { return false; }

Q_SIGNALS:
    void marksChanged();

protected:
    /// There is a keep to shape; leaves the Grey line.
    bool takeHold();
    /// The selected step, if it is of this tool's kind: further moves go into it.
    const Step *selectedStep() const;
    /// Puts a shape into `stepId`, or (0) into a new step of that sign, which is then selected.
    /// @param live shown only, until finish()
    void show(const std::shared_ptr<const StepShape> &shape, Sign sign, uint64_t stepId);
    void finish(const QString &text);
    void cancel();
    bool isShowing() const { return m_shows; }

    Session &m_session;
    const ToolSign &m_sign;

private:
    bool m_shows = false;
    uint64_t m_lineId = 0;
    uint64_t m_stepId = 0;
};

} // namespace buttonhole::app
