#pragma once

#include "jobs/jobs.h"
#include "mask/outline_step.h"
#include "segment/edge_path.h"
#include "tools/tool.h"

#include <QPointF>

namespace buttonhole::app
{

/// Draws closed lines: a click sets a corner, a press and drag on it a smooth point; between clicks
/// the line may hug the photo's edges; or it is drawn freehand. The first point, Return or a double
/// click closes. Points of the selected step can be moved, added on the line, and taken out with
/// Ctrl.
class OutlineTool final : public Tool
{
    Q_OBJECT
public:
    OutlineTool(Session &session, const ToolSign &sign, Jobs &jobs, QObject *parent)
        : Tool(session, sign, parent), m_jobs(jobs)
    {
    }
    /// How the line goes on from point to point.
    enum class Way {
        Points,   ///< straight, or curved where a point is pulled out
        Hugging,  ///< along the photo's edges
        Freehand, ///< as it is drawn
    };
    std::string kind() const override { return "outline"; }
    QString help() const override;
    Way way() const { return m_way; }
    void setWay(Way way)
    {
        m_way = way;
        Q_EMIT marksChanged();
    }
    /// The look at the edges round the last point is over: the line follows them.
    bool isHugging() const { return m_path != nullptr; }

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
    enum class Hold { None, NewPoint, Freehand, Point, Handles, HandleIn, HandleOut, Close };
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

    /// Looks at the edges round the last point, in the background.
    void lookForEdges();
    /// The corners from the last point to the pointer, or to the edge beside it.
    std::vector<PhotoPoint> lineTo(const PointerEvent &event) const;

    Jobs &m_jobs;
    Way m_way = Way::Points;
    std::shared_ptr<const EdgePath> m_path; ///< from the last point
    int m_looks = 0;
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
