#include "tools/outline_tool.h"

#include "style/thread_colours.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kNearPx = 8;        ///< of the screen
constexpr double kFreehandStep = 3;  ///< px of the screen between points as drawn
constexpr double kSimplifyPx = 0.75; ///< of the screen: how far a simplified line may stray

PhotoPoint plus(const PhotoPoint &a, const PhotoPoint &b)
{
    return {a.x + b.x, a.y + b.y};
}

PhotoPoint minus(const PhotoPoint &a, const PhotoPoint &b)
{
    return {a.x - b.x, a.y - b.y};
}

bool isZero(const PhotoPoint &p)
{
    return p.x == 0 && p.y == 0;
}

} // namespace

QString OutlineTool::help() const
{
    if (isUnfinished())
        return m_way == Way::Freehand ? tr("Letting go closes it.")
                                      : tr("The first point or Return closes it, Esc drops it.");
    if (selectedStep())
        return tr("Drag points. Ctrl-click takes one out, Shift-drag rounds it.");
    return m_way == Way::Freehand ? tr("Draw round it in one go; letting go closes it.")
                                  : tr("Click round it, end on the first point.");
}

const std::vector<Outline> *OutlineTool::selectedOutlines() const
{
    const Step *step = selectedStep();
    return step ? &static_cast<const OutlineStep &>(*step->shape).outlines() : nullptr;
}

OutlineTool::Place OutlineTool::placeAt(const std::vector<Outline> &outlines,
                                        const PointerEvent &event) const
{
    const double near = kNearPx * event.pixel;
    for (size_t o = 0; o < outlines.size(); ++o)
        for (size_t i = 0; i < outlines[o].size(); ++i) {
            const OutlinePoint &p = outlines[o][i];
            if (distance(p.at, event.at()) <= near)
                return {Hold::Point, o, i};
            if (!isZero(p.in) && distance(plus(p.at, p.in), event.at()) <= near)
                return {Hold::HandleIn, o, i};
            if (!isZero(p.out) && distance(plus(p.at, p.out), event.at()) <= near)
                return {Hold::HandleOut, o, i};
        }
    return {};
}

bool OutlineTool::insertPoint(std::vector<Outline> &outlines, const PointerEvent &event,
                              Place &place) const
{
    for (size_t o = 0; o < outlines.size(); ++o) {
        Outline &outline = outlines[o];
        for (size_t i = 0; i < outline.size(); ++i) {
            const OutlinePoint &from = outline[i];
            const OutlinePoint &to = outline[(i + 1) % outline.size()];
            const auto line = flattened({from, to}, false);
            for (size_t k = 0; k + 1 < line.size(); ++k) {
                const PhotoPoint a = line[k];
                const PhotoPoint ab = minus(line[k + 1], a);
                const PhotoPoint ap = minus(event.at(), a);
                const float length2 = ab.x * ab.x + ab.y * ab.y;
                const float t = length2 > 0
                                    ? std::clamp((ap.x * ab.x + ap.y * ab.y) / length2, 0.0F, 1.0F)
                                    : 0.0F;
                const PhotoPoint nearest{a.x + t * ab.x, a.y + t * ab.y};
                if (distance(nearest, event.at()) > kNearPx * event.pixel)
                    continue;
                splitSegment(outline, i, (float(k) + t) / float(line.size() - 1));
                place = {Hold::Point, o, i + 1};
                return true;
            }
        }
    }
    return false;
}

bool OutlineTool::closes(const PointerEvent &event) const
{
    return m_drawn.size() >= 3 && distance(m_drawn.front().at, event.at()) <= kNearPx * event.pixel;
}

void OutlineTool::press(const PointerEvent &event)
{
    if (isBusy() || !takeHold())
        return;
    m_start = m_now = event;
    if (m_drawn.empty()) {
        m_opposite = event.opposite;
        if (const auto *outlines = selectedOutlines()) {
            m_edited = *outlines;
            m_stepId = m_session.step()->id;
            m_place = placeAt(m_edited, event);
            if (m_place.hold == Hold::Point && event.opposite) {
                Outline &outline = m_edited[m_place.outline];
                outline.erase(outline.begin() + ptrdiff_t(m_place.point));
                if (outline.size() < 3)
                    m_edited.erase(m_edited.begin() + ptrdiff_t(m_place.outline));
                showEdited();
                finish(tr("Outline, point taken out"));
                return;
            }
            if (m_place.hold == Hold::Point && event.fromLastPoint) {
                OutlinePoint &p = m_edited[m_place.outline][m_place.point];
                p.in = p.out = {};
                m_place.hold = Hold::Handles;
            }
            if (m_place.hold != Hold::None || insertPoint(m_edited, event, m_place)) {
                m_hold = m_place.hold;
                showEdited();
                return;
            }
        }
    }
    if (closes(event)) {
        m_hold = Hold::Close;
        return;
    }
    for (const PhotoPoint &corner : lineTo(event))
        m_drawn.push_back({corner, {}, {}});
    m_hold = m_way == Way::Freehand ? Hold::Freehand : Hold::NewPoint;
    lookForEdges();
    Q_EMIT marksChanged();
}

void OutlineTool::lookForEdges()
{
    m_path.reset();
    const int look = ++m_looks;
    if (m_way != Way::Hugging)
        return;
    const int level = std::max(0, int(std::lround(std::log2(std::max(1.0, m_start.pixel)))));
    m_jobs.start(
        {},
        [levels = m_session.levels(), from = m_drawn.back().at, level](const Run &) {
            return std::make_shared<const EdgePath>(*levels, from, level);
        },
        [this, look](std::shared_ptr<const EdgePath> path) {
            if (look != m_looks || m_drawn.empty()) // another click since, or closed
                return;
            m_path = std::move(path);
            Q_EMIT marksChanged();
        });
}

std::vector<PhotoPoint> OutlineTool::lineTo(const PointerEvent &event) const
{
    if (!m_path || m_drawn.empty())
        return {event.at()};
    return m_path->to(event.at(), EdgePath::kMissedPx * float(event.pixel));
}

void OutlineTool::move(const PointerEvent &event)
{
    m_now = event;
    const PhotoPoint at = event.at();
    switch (m_hold) {
    case Hold::None:
    case Hold::Close:
        return;
    case Hold::NewPoint: // pulled out of the point: it becomes smooth
        if (m_way == Way::Points &&
            distance(m_drawn.back().at, event.at()) > kNearPx / 2 * event.pixel) {
            m_drawn.back().out = minus(at, m_drawn.back().at);
            m_drawn.back().in = {-m_drawn.back().out.x, -m_drawn.back().out.y};
        }
        break;
    case Hold::Freehand:
        if (distance(m_drawn.back().at, event.at()) >= kFreehandStep * event.pixel)
            m_drawn.push_back({at, {}, {}});
        break;
    case Hold::Point:
        m_edited[m_place.outline][m_place.point].at = at;
        showEdited();
        break;
    case Hold::Handles: { // pulled out of a corner
        OutlinePoint &p = m_edited[m_place.outline][m_place.point];
        p.out = minus(at, p.at);
        p.in = {-p.out.x, -p.out.y};
        showEdited();
        break;
    }
    case Hold::HandleIn:
    case Hold::HandleOut: {
        OutlinePoint &p = m_edited[m_place.outline][m_place.point];
        PhotoPoint &held = m_hold == Hold::HandleIn ? p.in : p.out;
        PhotoPoint &other = m_hold == Hold::HandleIn ? p.out : p.in;
        held = minus(at, p.at);
        if (!event.fromLastPoint) // with Shift the other one stays: a corner
            other = {-held.x, -held.y};
        showEdited();
        break;
    }
    }
    Q_EMIT marksChanged();
}

void OutlineTool::hover(const PointerEvent &event)
{
    m_now = event;
    if (isUnfinished())
        Q_EMIT marksChanged();
}

void OutlineTool::release()
{
    const Hold hold = m_hold;
    m_hold = Hold::None;
    switch (hold) {
    case Hold::None:
    case Hold::NewPoint:
        break;
    case Hold::Freehand:
        if (m_drawn.size() >= 8) {
            m_drawn = simplified(m_drawn, kSimplifyPx * m_now.pixel);
            close();
        }
        break;
    case Hold::Close:
        close();
        break;
    case Hold::Handles:
        finish(isZero(m_edited[m_place.outline][m_place.point].out) ? tr("Outline, a corner")
                                                                    : tr("Outline, a curve"));
        break;
    case Hold::Point:
    case Hold::HandleIn:
    case Hold::HandleOut:
        finish(tr("Outline, point moved"));
        break;
    }
    Q_EMIT marksChanged();
}

void OutlineTool::close()
{
    if (m_drawn.size() < 3)
        return;
    if (m_path) {
        auto last = m_path->to(m_drawn.front().at);
        last.pop_back();
        for (const PhotoPoint &corner : last)
            m_drawn.push_back({corner, {}, {}});
    }
    m_path.reset();
    const Step *step = m_opposite ? nullptr : selectedStep();
    std::vector<Outline> outlines;
    if (step)
        outlines = static_cast<const OutlineStep &>(*step->shape).outlines();
    outlines.push_back(std::move(m_drawn));
    m_drawn.clear();
    show(std::make_shared<OutlineStep>(std::move(outlines)), m_sign.of(m_opposite),
         step ? step->id : 0);
    finish(step ? tr("Outline, one more line") : tr("Outline"));
}

void OutlineTool::showEdited()
{
    show(std::make_shared<OutlineStep>(m_edited), m_sign.sign, m_stepId);
}

bool OutlineTool::finishMove()
{
    if (!isUnfinished())
        return false;
    close();
    m_drawn.clear();
    Q_EMIT marksChanged();
    return true;
}

void OutlineTool::drop()
{
    if (m_hold == Hold::None || m_hold == Hold::NewPoint || m_hold == Hold::Freehand)
        m_drawn.clear();
    m_path.reset();
    ++m_looks;
    m_hold = Hold::None;
    cancel();
    Q_EMIT marksChanged();
}

void OutlineTool::reset()
{
    m_drawn.clear();
    m_path.reset();
    ++m_looks;
    m_hold = Hold::None;
}

void OutlineTool::paintMarks(QPainter &painter, const ViewTransform &view) const
{
    const auto at = [&](const PhotoPoint &p) { return view.toWidget({p.x, p.y}); };
    const auto pathOf = [&](const Outline &outline, bool isClosed) {
        QPainterPath path;
        path.moveTo(at(outline.front().at));
        for (size_t i = 1; i < outline.size() + (isClosed ? 1 : 0); ++i) {
            const OutlinePoint &from = outline[i - 1];
            const OutlinePoint &to = outline[i % outline.size()];
            path.cubicTo(at(plus(from.at, from.out)), at(plus(to.at, to.in)), at(to.at));
        }
        return path;
    };
    const auto draw = [&](const QPainterPath &path) {
        painter.strokePath(path, QPen(inkOnPhoto(180), 3));
        painter.strokePath(path, QPen(threadOnPhoto(), 1.4));
    };
    // Of points that crowd, as along an edge that was hugged, only some can be told apart.
    const auto drawPoints = [&](const Outline &outline) {
        QPointF last(-1e6, -1e6);
        for (const OutlinePoint &p : outline) {
            if (QLineF(last, at(p.at)).length() < 2 * kNearPx)
                continue;
            last = at(p.at);
            painter.setPen(QPen(threadOnPhoto(200), 1));
            for (const PhotoPoint &handle : {p.in, p.out})
                if (!isZero(handle)) {
                    painter.drawLine(at(p.at), at(plus(p.at, handle)));
                    painter.setBrush(QColor(0x8A, 0x8A, 0x8A));
                    painter.drawEllipse(at(plus(p.at, handle)), 3, 3);
                }
            painter.setPen(QPen(inkOnPhoto(200), 1.2));
            painter.setBrush(threadOnPhoto());
            painter.drawEllipse(at(p.at), 4, 4);
        }
    };
    if (const auto *outlines = isBusy() && !isUnfinished() ? &m_edited : selectedOutlines())
        for (const Outline &outline : *outlines) {
            if (outline.size() < 2)
                continue;
            draw(pathOf(outline, true));
            if (outline.size() < 200) // a long freehand line would be all points
                drawPoints(outline);
        }
    if (m_drawn.empty())
        return;
    QPainterPath path = pathOf(m_drawn, false);
    if (!isBusy())
        for (const PhotoPoint &corner : lineTo(m_now))
            path.lineTo(at(corner));
    draw(path);
    if (m_hold == Hold::Freehand)
        return;
    drawPoints(m_drawn);
    if (closes(m_now)) { // it says that a click here closes the line
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(QColor(0xE7, 0xA2, 0x4E), 2.4));
        painter.drawEllipse(at(m_drawn.front().at), 8, 8);
    }
}

} // namespace buttonhole::app
