#pragma once

#include "mask/outline_step.h"
#include "tools/tool.h"

#include <QPointF>

namespace buttonhole::app
{

/// Draws closed lines: a click sets a corner, a press and drag on it a smooth point, a long drag
/// draws freehand. The first point, Return or a double click closes. Points of the selected step
/// can be moved, added on the line, and taken out with Ctrl.
class OutlineTool final : public Tool
{
    Q_OBJECT
public:
    using Tool::Tool;
    std::string kind() const override { return "outline"; }
    QString name() const override { return tr("Outline"); }
    QString help() const override
    {
        return tr("Click round it; the first point closes it. Ctrl-click takes a point out.");
    }
    bool isFreehand() const { return m_isFreehand; }
    void setFreehand(bool on) { m_isFreehand = on; }

    void press(const PointerEvent &event) override;
    void move(const PointerEvent &event) override;
    void hover(const PointerEvent &event) override;
    void release() override;
    void drop() override;
    /// Return: the line that is being drawn is closed.
    bool finishMove() override;
    bool isBusy() const override { return m_hold != Hold::None; }
    bool isUnfinished() const override { return !m_drawn.empty(); }
    void reset() override;
    void paintMarks(QPainter &painter, const ViewTransform &view) const override;

private:
    enum class Hold { None, NewPoint, Freehand, Point, HandleIn, HandleOut, Close };
    struct Place {
        Hold hold = Hold::None;
        size_t outline = 0;
        size_t point = 0;
    };
    const std::vector<Outline> *selectedOutlines() const;
    /// The handle or point of the selected step that is under the pointer.
    Place placeAt(const std::vector<Outline> &outlines, const PointerEvent &event) const;
    /// Puts a point onto the line under the pointer; false where there is none.
    bool insertPoint(std::vector<Outline> &outlines, const PointerEvent &event, Place &place) const;
    bool closes(const PointerEvent &event) const;
    void close();
    void showEdited();

    bool m_isFreehand = false;
    Hold m_hold = Hold::None;
    Outline m_drawn; ///< not closed yet
    PointerEvent m_now;
    PointerEvent m_start;
    bool m_opposite = false;

    std::vector<Outline> m_edited; ///< of the selected step, while its points move
    Place m_place;
    uint64_t m_stepId = 0;
};

} // namespace buttonhole::app
