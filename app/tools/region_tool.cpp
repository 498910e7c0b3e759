#include "tools/region_tool.h"

#include "commands/move_words.h"
#include "style/theme.h"
#include "style/thread_colours.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kMarkPx = 2;      ///< of the screen: half the width of a mark
constexpr double kHitPx = 7;       ///< of the screen
constexpr double kSpacingPx = 3;   ///< of the screen, between points of a stroke
constexpr int kDraftEdge = 1600;   ///< long edge of the level that is enough while dragging
constexpr double kMostRadius = 24; ///< px of the photo

double distanceToPiece(const PhotoPoint &p, const PhotoPoint &a, const PhotoPoint &b)
{
    const double dx = b.x - a.x;
    const double dy = b.y - a.y;
    const double length = dx * dx + dy * dy;
    const double t =
        length > 0
            ? std::clamp((double(p.x - a.x) * dx + double(p.y - a.y) * dy) / length, 0.0, 1.0)
            : 0;
    return std::hypot(double(p.x - a.x) - t * dx, double(p.y - a.y) - t * dy);
}

/// Screen path of a mark; a click is a short piece, so that a round pen shows a dot.
QPainterPath pathOf(const RegionMark &mark, const ViewTransform &view)
{
    QPainterPath path;
    for (size_t i = 0; i < mark.points.size(); ++i) {
        const QPointF at = view.toWidget({mark.points[i].x, mark.points[i].y});
        if (i == 0)
            path.moveTo(at);
        path.lineTo(i == 0 ? at + QPointF(0.01, 0) : at);
    }
    return path;
}

void paintMark(QPainter &painter, const RegionMark &mark, const ViewTransform &view, bool isLit)
{
    const QPainterPath path = pathOf(mark, view);
    const QColor thread = threadOnPhoto();
    const QColor ink = inkOnPhoto();
    const double width = 2 * kMarkPx + (isLit ? 2 : 0);
    painter.setBrush(Qt::NoBrush);
    painter.strokePath(path, QPen(mark.isLeave ? thread : ink, width + 2, Qt::SolidLine,
                                  Qt::RoundCap, Qt::RoundJoin));
    painter.strokePath(
        path, QPen(mark.isLeave ? ink : thread, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
}

} // namespace

RegionTool::RegionTool(Session &session, const ToolSign &sign, Jobs &jobs, QObject *parent)
    : Tool(session, sign, parent), m_jobs(jobs)
{
}

const RegionStep *RegionTool::selectedRegion() const
{
    const Step *step = selectedStep();
    return step ? static_cast<const RegionStep *>(step->shape.get()) : nullptr;
}

const RegionAsk *RegionTool::selectedAsk() const
{
    const RegionStep *region = selectedRegion();
    return region ? &region->ask() : nullptr;
}

RegionTool::Solve RegionTool::solver()
{
    return [solver = m_solver](const PhotoLevels &levels, RegionAsk &ask, const Run &run,
                               int finest) { return solver->solve(levels, ask, run, finest); };
}

std::shared_ptr<const StepShape> RegionTool::shapeFor(const RegionAsk &ask, MaskPlane plane)
{
    return std::make_shared<RegionStep>(ask, std::move(plane));
}

int RegionTool::markAt(const PointerEvent &event) const
{
    const RegionAsk *ask = selectedAsk();
    const PhotoPoint p = event.at();
    for (int i = ask ? int(ask->marks.size()) - 1 : -1; i >= 0; --i) {
        const auto &points = ask->marks[size_t(i)].points;
        for (size_t k = 0; k < points.size(); ++k)
            if (distanceToPiece(p, points[k == 0 ? 0 : k - 1], points[k]) < kHitPx * event.pixel)
                return i;
    }
    return -1;
}

void RegionTool::begin(uint64_t stepId, RegionAsk ask, Sign sign, const QString &text)
{
    m_stepId = stepId;
    m_into = m_session.masked()->id;
    m_ask = std::move(ask);
    m_newSign = sign;
    m_text = text;
    m_isAnswering = true;
    m_isGlimpsed = false;
}

void RegionTool::press(const PointerEvent &event)
{
    if (m_isDown || !takeHold())
        return;
    m_start = event;
    const int mark = event.opposite && !m_isAnswering ? markAt(event) : -1;
    if (mark >= 0) {
        takeAway(size_t(mark));
        return;
    }
    const bool goesOn = m_isAnswering || selectedStep();
    m_isBox = event.fromLastPoint;
    const RegionMark fresh{{event.at()},
                           float(std::clamp(kMarkPx * event.pixel, 0.5, kMostRadius)),
                           event.opposite && goesOn};
    RegionAsk ask = m_isAnswering ? m_ask : goesOn ? *selectedAsk() : RegionAsk{};
    m_askBefore = m_isAnswering ? std::optional(m_ask) : std::nullopt;
    if (!m_isBox)
        ask.marks.push_back(fresh);
    else
        ask.box = Rect{};
    if (m_isAnswering) { // the answer to the last mark is still on its way
        m_ask = std::move(ask);
    } else {
        const Step *step = selectedStep();
        begins(selectedRegion());
        begin(step ? step->id : 0, std::move(ask), m_sign.of(event.opposite && !step),
              !step           ? name()
              : m_isBox       ? tr("%1, its box").arg(name())
              : fresh.isLeave ? tr("%1, left out").arg(name())
                              : tr("%1, one more").arg(name()));
    }
    m_isDown = true;
    if (!m_isBox)
        request();
    Q_EMIT marksChanged();
}

void RegionTool::move(const PointerEvent &event)
{
    if (!m_isDown)
        return;
    const PhotoPoint p = event.at();
    if (m_isBox) {
        const Rect photo = m_session.levels()->photo().rect();
        const auto [x0, x1] = std::minmax(m_start.point.x, p.x);
        const auto [y0, y1] = std::minmax(m_start.point.y, p.y);
        m_ask.box = intersected(photo, {int(std::floor(x0)), int(std::floor(y0)),
                                        int(std::ceil(x1)), int(std::ceil(y1))});
    } else {
        auto &points = m_ask.marks.back().points;
        if (distance(points.back(), p) < kSpacingPx * event.pixel)
            return;
        points.push_back(p);
    }
    request();
    Q_EMIT marksChanged();
}

void RegionTool::hover(const PointerEvent &event)
{
    const int mark = m_isAnswering ? -1 : markAt(event);
    if (mark == m_hovered)
        return;
    m_hovered = mark;
    Q_EMIT marksChanged();
}

void RegionTool::release()
{
    if (!m_isDown)
        return;
    m_isDown = false;
    const bool isNoBox = m_isBox && (!m_ask.box || m_ask.box->isEmpty());
    if (isNoBox && m_askBefore) { // the answer to what was asked before is still on its way
        m_ask = *m_askBefore;
        request();
    } else if (isNoBox || !isSolvable(m_ask)) // nothing, or nothing but what is left out
        drop();
    else
        request();
    Q_EMIT marksChanged();
}

void RegionTool::takeAway(size_t mark)
{
    RegionAsk ask = *selectedAsk();
    ask.marks.erase(ask.marks.begin() + ptrdiff_t(mark));
    m_hovered = -1;
    if (!isSolvable(ask)) {
        m_session.edit(ofStep(m_session, tr("Removal")),
                       withoutStep(*m_session.take(), m_session.masked()->id, selectedStep()->id));
        return;
    }
    begins(selectedRegion());
    begin(selectedStep()->id, std::move(ask), Sign::Add, tr("%1, mark taken away").arg(name()));
    request();
}

void RegionTool::ask(const std::function<void(RegionAsk &)> &change, const QString &text)
{
    const RegionAsk *now = m_isAnswering ? &m_ask : selectedAsk();
    if (!now)
        return;
    RegionAsk next = *now;
    change(next);
    if (m_isAnswering) {
        m_ask = std::move(next);
    } else {
        begins(selectedRegion());
        begin(selectedStep()->id, std::move(next), Sign::Add, text);
    }
    request();
}

bool RegionTool::resize(bool larger)
{
    const float by = larger ? kReachStep : -kReachStep;
    ask([&](RegionAsk &a) { a.reach = std::clamp(a.reach + by, -1.0F, 1.0F); },
        larger ? tr("%1 larger").arg(name()) : tr("%1 smaller").arg(name()));
    return true; // where there is none, still not the brush's tip
}

void RegionTool::setReach(float reach, bool isFinal)
{
    if (!m_isAnswering && (!selectedAsk() || selectedAsk()->reach == reach))
        return;
    m_isDown = !isFinal;
    ask([&](RegionAsk &a) { a.reach = std::clamp(reach, -1.0F, 1.0F); },
        tr("%1, its size").arg(name()));
}

void RegionTool::growAgain()
{
    if (m_isAnswering) // that is from all its marks
        return;
    forget();
    ask([](RegionAsk &) {}, tr("%1, grown again").arg(name()));
}

void RegionTool::request()
{
    if (!isSolvable(m_ask))
        return;
    m_isStale = m_isRunning;
    if (m_isRunning) {
        m_isGlimpsed = false;
        return;
    }
    m_isRunning = true;
    const Glimpse sooner = m_isDown || m_isGlimpsed ? nullptr : glimpse(m_ask);
    const bool isExact = !m_isDown && !sooner;
    m_isGlimpsed = !m_isDown;
    const auto levels = m_session.levels();
    const int finest = isExact ? 0 : levels->levelWithin(kDraftEdge);
    m_stop = m_jobs.start(
        m_isDown ? QString() : tr("Growing to the edges…"),
        [levels, asked = m_ask, isExact, finest, sooner, solve = solver()](const Run &run) {
            Answer answer{{}, asked, isExact};
            if (!sooner) {
                answer.plane = solve(*levels, answer.ask, run, finest);
            } else if (auto seen = sooner(*levels, run, finest); seen && *seen) {
                answer.plane = std::move(**seen);
            } else if (!seen && seen.error().kind == ErrorKind::Cancelled) {
                answer.plane = seen.error();
            }
            return answer;
        },
        [this, generation = m_generation](Answer answer) {
            m_isRunning = false;
            if (generation == m_generation)
                receive(std::move(answer));
            else if (m_isAnswering)
                request(); // of the move after the dropped one
        });
}

bool RegionTool::isStillThere() const
{
    const MaskedLine *line = m_session.masked();
    const Step *step = m_session.step();
    return line && line->id == m_into && (m_stepId == 0 || (step && step->id == m_stepId));
}

void RegionTool::receive(Answer answer)
{
    const bool isStopped = answer.plane && !*answer.plane;
    if (isStopped || !isStillThere()) {
        drop();
        return;
    }
    const RegionAsk &ask = answer.ask;
    if (answer.plane)
        show(shapeFor(ask, std::move(**answer.plane)), m_newSign, m_stepId);
    if (m_isStale || m_isDown || !answer.isExact) {
        if (m_isStale || !m_isDown)
            request();
        return;
    }
    const RegionAsk *before = m_stepId != 0 ? selectedAsk() : nullptr;
    if (before && ask == *before && !(ask == m_ask)) { // there is no larger one
        drop();
        return;
    }
    m_isAnswering = false;
    finish(m_text);
    Q_EMIT marksChanged();
    landed();
}

void RegionTool::end()
{
    ++m_generation;
    m_stop.request_stop();
    m_isDown = m_isStale = m_isAnswering = false;
}

void RegionTool::drop()
{
    end();
    cancel();
    Q_EMIT marksChanged();
}

void RegionTool::reset()
{
    if (m_isAnswering)
        drop();
    m_hovered = -1;
    forget();
}

void RegionTool::paintMarks(QPainter &painter, const ViewTransform &view) const
{
    const RegionAsk *ask = m_isAnswering ? &m_ask : selectedAsk();
    if (!ask)
        return;
    if (ask->box && !ask->box->isEmpty() && (m_isAnswering || showsBox())) {
        drawThreadBox(painter, view.boxOf(*ask->box), 4);
    }
    for (size_t i = 0; i < ask->marks.size(); ++i)
        paintMark(painter, ask->marks[i], view, int(i) == m_hovered);
}

} // namespace buttonhole::app
