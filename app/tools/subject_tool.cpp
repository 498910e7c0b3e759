#include "tools/subject_tool.h"

#include "nets/nets.h"
#include "style/theme.h"
#include "style/thread_colours.h"
#include "subject/net_picture.h"
#include "view/net_image.h"

#include <QPainter>

#include <utility>

namespace buttonhole::app
{

namespace
{

constexpr double kSame = 0.6;    ///< likeness of a loose box and what was found in it
constexpr int kPictureEdge = 96; ///< px, twice of what is shown, for fine screens

QPainterPath toPath(const std::vector<EdgeLine> &lines)
{
    QPainterPath path;
    for (const EdgeLine &line : lines) {
        QPolygonF polygon;
        for (const EdgePoint &point : line.points)
            polygon << QPointF(double(point.x), double(point.y));
        path.addPolygon(polygon);
        path.closeSubpath();
    }
    return path;
}

/// As it looks in a view, without what is finer than the screen: to stroke all of it is dear.
QPainterPath seen(const QPainterPath &outline, const ViewTransform &view)
{
    QPainterPath path;
    QPolygonF line;
    const auto end = [&] {
        path.addPolygon(line);
        path.closeSubpath();
        line.clear();
    };
    for (int i = 0; i < outline.elementCount(); ++i) {
        const QPainterPath::Element element = outline.elementAt(i);
        if (element.isMoveTo() && !line.isEmpty())
            end();
        const QPointF at = view.toWidget(QPointF(element));
        if (line.isEmpty() || (at - line.last()).manhattanLength() >= 1)
            line << at;
    }
    end();
    return path;
}

/// Where an offer's marks are, px of the widget.
QRectF placeOf(const SubjectTool::Offer &offer, const ViewTransform &view)
{
    const QRect line = offer.outline.controlPointRect().toAlignedRect();
    const Rect outline{line.left(), line.top(), line.right() + 1, line.bottom() + 1};
    return (view.boxOf(offer.found.box) | view.boxOf(outline)).adjusted(-3, -3, 3, 3);
}

/// Says whether the pointer is on it.
bool holds(const SubjectTool::Offer &offer, const PointerEvent &event)
{
    const Rect &box = offer.found.box;
    const QPointF at(double(event.point.x), double(event.point.y));
    return offer.outline.isEmpty() ? QRectF(box.x0, box.y0, box.width(), box.height()).contains(at)
                                   : offer.outline.contains(at);
}

} // namespace

SubjectTool::SubjectTool(Session &session, const ToolSign &sign, Jobs &jobs, QObject *parent)
    : RegionTool(session, sign, jobs, parent)
{
}

void SubjectTool::takenUp()
{
    const auto levels = m_session.levels();
    if (!m_session.hasPhoto())
        return;
    if (m_state != State::NotLooked && m_photo == levels->content()) {
        traceNext(); // goes on
        return;
    }
    m_photo = levels->content();
    m_offers.clear();
    m_layer = {};
    m_lit = -1;
    lookOver();
}

/// What stands out first, since it is asked for most; then all the rest.
void SubjectTool::lookOver()
{
    m_state = State::Looking;
    m_problem.clear();
    Q_EMIT offersChanged();
    look(findMainSubjects, [this](const Look &main) {
        addFound(main);
        if (main.error) {
            endLooking(main);
            return;
        }
        look(findOtherSubjects, [this](const Look &others) {
            addFound(others);
            endLooking(others);
        });
    });
}

void SubjectTool::look(Find find, std::function<void(const Look &)> then)
{
    m_jobs.start(
        tr("Looking the photo over…"),
        [levels = m_session.levels(), find](const Run &run) {
            Look look;
            auto found = find(*levels, run);
            if (!found) {
                look.error = found.error();
                return look;
            }
            if (const auto model = findModel(kSalientModel); !model)
                look.missing = model.error();
            for (FoundSubject &each : *found) {
                QImage picture = toImage(readNetPicture(*levels, each.box, kPictureEdge));
                look.offers.append({std::move(each), std::move(picture), {}, false});
            }
            return look;
        },
        [this, photo = m_photo, then = std::move(then)](const Look &found) {
            if (photo == m_photo)
                then(found);
        });
}

void SubjectTool::addFound(const Look &found)
{
    m_offers += found.offers;
    m_layer = {};
    Q_EMIT offersChanged();
    Q_EMIT marksChanged();
}

void SubjectTool::endLooking(const Look &last)
{
    const bool isStopped = last.error && last.error->kind == ErrorKind::Cancelled;
    if (last.error) // all of it is looked for again, or nothing can be
        m_offers.clear();
    m_state = isStopped ? State::NotLooked : last.error ? State::Failed : State::Looked;
    const auto &problem = isStopped ? std::nullopt : last.error ? last.error : last.missing;
    m_problem = problem ? QString::fromStdString(sentence(*problem)) : QString();
    Q_EMIT offersChanged();
    Q_EMIT marksChanged();
    traceNext();
}

void SubjectTool::traceNext()
{
    m_trace.request_stop();
    const auto untraced = std::find_if(m_offers.begin(), m_offers.end(),
                                       [](const Offer &offer) { return !offer.isTraced; });
    const bool isLitNext = m_lit >= 0 && !m_offers[m_lit].isTraced;
    m_tracing = 0;
    if (untraced == m_offers.end() || isAnswering() || !(showsOffers() || isLitNext))
        return; // what nobody sees is traced when it is seen
    const int next = isLitNext ? m_lit : int(untraced - m_offers.begin());
    const int number = m_tracing = ++m_traces;
    m_trace = m_jobs.start(
        {},
        [levels = m_session.levels(), found = m_offers[next].found](const Run &run) {
            return outlineOf(*levels, found, run);
        },
        [this, next, number, photo = m_photo](const Result<std::vector<EdgeLine>> &lines) {
            if (number == m_tracing)
                m_tracing = 0;
            if (photo != m_photo || (!lines && lines.error().kind == ErrorKind::Cancelled))
                return;
            if (lines)
                m_offers[next].outline = toPath(*lines);
            m_offers[next].isTraced = true;
            m_layerStale << next;
            Q_EMIT marksChanged();
            if (!m_trace.stop_requested()) // meanwhile
                traceNext();
        });
}

void SubjectTool::reset()
{
    m_trace.request_stop();
    RegionTool::reset();
}

/// What was offered came without a box of the user's: nothing to see of it once it is taken.
bool SubjectTool::showsBox() const
{
    const Step *step = m_session.step();
    const auto *shape = step ? dynamic_cast<const RegionStep *>(step->shape.get()) : nullptr;
    return !shape || !shape->note() || shape->note()->word.empty();
}

bool SubjectTool::showsOffers() const
{
    // Over finished work they would be in the way: there with Shift, or from the strip.
    const MaskedLine *line = m_session.masked();
    return !isAnswering() && !selectedStep() && !(line && !line->steps.empty());
}

int SubjectTool::offerAt(const PointerEvent &event) const
{
    int best = -1;
    size_t least = SIZE_MAX;
    for (int i = 0; i < m_offers.size(); ++i) {
        const FoundSubject &found = m_offers[i].found;
        if (found.group != SubjectGroup::Main && holds(m_offers[i], event) &&
            found.box.area() < least) {
            least = found.box.area();
            best = i;
        }
    }
    return best;
}

void SubjectTool::light(int offer)
{
    if (m_lit == offer)
        return;
    m_lit = offer;
    if (offer >= 0 && !m_offers[offer].isTraced)
        traceNext(); // it first
    Q_EMIT litChanged();
    Q_EMIT marksChanged();
}

void SubjectTool::hover(const PointerEvent &event)
{
    // With Shift one more is gathered beside the selected one.
    light(showsOffers() || event.fromLastPoint ? offerAt(event) : -1);
    if (m_tracing == 0)
        traceNext();
    RegionTool::hover(event);
}

void SubjectTool::press(const PointerEvent &event)
{
    const int offer =
        !event.opposite && (showsOffers() || event.fromLastPoint) ? offerAt(event) : -1;
    if (offer >= 0 && !event.fromLastPoint && !m_offers[offer].found.ovals.empty()) {
        take({offer}); // a face, or eyes: nothing smaller is meant
        return;
    }
    m_pressed = event.fromLastPoint ? offer : -1; // a click gathers it, a drag draws a box
    m_under.clear();
    for (const Offer &each : m_offers)
        if (!event.fromLastPoint && each.found.group != SubjectGroup::Main && holds(each, event))
            m_under.push_back(each.found.box);
    light(-1);
    RegionTool::press(event);
}

void SubjectTool::release()
{
    const int offer = std::exchange(m_pressed, -1);
    RegionTool::release();
    if (offer >= 0 && !isAnswering())
        take({offer});
}

void SubjectTool::take(const QList<int> &offers)
{
    if (isBusy() || !takeHold())
        return;
    m_queue += offers;
    if (!isAnswering())
        takeNext();
}

void SubjectTool::takeNext()
{
    if (m_queue.isEmpty())
        return;
    m_trace.request_stop();
    const FoundSubject found = m_offers[m_queue.takeFirst()].found;
    m_note = {found.word, found.ovals, {}, {}};
    light(-1);
    RegionAsk ask;
    ask.box = found.box;
    begin(0, std::move(ask), m_sign.of(false),
          tr("Subject: %1").arg(QString::fromStdString(found.word)));
    request();
    Q_EMIT marksChanged();
}

void SubjectTool::landed()
{
    takeNext();
    traceNext();
}

void SubjectTool::drop()
{
    m_queue.clear();
    RegionTool::drop();
}

void SubjectTool::begins(const RegionStep *selected)
{
    m_trace.request_stop(); // what is asked for comes first
    m_note = selected && selected->note() ? *selected->note() : SubjectNote{{}, {}, {}, m_under};
}

RegionTool::Solve SubjectTool::solver()
{
    m_report = std::make_shared<SubjectReport>();
    return [solver = m_subjects, note = m_note, report = m_report](
               const PhotoLevels &levels, RegionAsk &ask, const Run &run, int finest) {
        if (finest > 0)
            return solver->preview(levels, ask, note, run, finest);
        auto plane = solver->solve(levels, ask, note, run, 0, report.get());
        if (plane)
            ask.reach = report->reach;
        return plane;
    };
}

RegionTool::Glimpse SubjectTool::glimpse(const RegionAsk &ask)
{
    const bool isFirstClick = !ask.box && ask.marks.size() == 1 && ask.reach == 0;
    if (!isFirstClick)
        return nullptr;
    return [solver = m_subjects, note = m_note, ask](const PhotoLevels &levels, const Run &run,
                                                     int finest) {
        return solver->glimpse(levels, ask, note, run, finest);
    };
}

std::shared_ptr<const StepShape> SubjectTool::shapeFor(const RegionAsk &ask, MaskPlane plane)
{
    SubjectNote note = m_note;
    note.models = m_state == State::Failed ? "" : kModelsVersion;
    if (!m_report->looked.isEmpty()) // of this size, not of the one before
        note.word.clear();
    for (const Offer &offer : m_offers)
        if (offer.found.ovals.empty() && likeness(offer.found.box, m_report->looked) > kSame)
            note.word = offer.found.word;
    return std::make_shared<RegionStep>(ask, std::move(plane), std::move(note));
}

void SubjectTool::paintMarks(QPainter &painter, const ViewTransform &view) const
{
    if (!m_queue.isEmpty() || !showsOffers()) {
        if (m_lit >= 0)
            paintOffer(painter, view, m_lit, true);
        RegionTool::paintMarks(painter, view);
        return;
    }
    painter.drawImage(QPointF(0, 0), offersLayer(view));
    if (m_lit >= 0)
        paintOffer(painter, view, m_lit, true);
}

const QImage &SubjectTool::offersLayer(const ViewTransform &view) const
{
    const QSize size = view.canvas() * view.devicePixelRatio();
    const QList<int> changed = std::exchange(m_layerStale, {});
    if (m_layer.size() != size || !(m_layerView == view)) {
        m_layerView = view;
        m_layer = QImage(size, QImage::Format_ARGB32_Premultiplied);
        m_layer.setDevicePixelRatio(view.devicePixelRatio());
        m_layer.fill(Qt::transparent);
        paintOffers(view, QRectF(QPointF(0, 0), view.canvas()));
    } else if (!changed.isEmpty()) {
        QRectF stale;
        for (const int offer : changed)
            stale |= placeOf(m_offers[offer], view);
        paintOffers(view, stale);
    }
    return m_layer;
}

void SubjectTool::paintOffers(const ViewTransform &view, const QRectF &stale) const
{
    QPainter painter(&m_layer);
    painter.setClipRect(stale.toAlignedRect());
    painter.setCompositionMode(QPainter::CompositionMode_Source);
    painter.fillRect(stale.toAlignedRect(), Qt::transparent);
    painter.setCompositionMode(QPainter::CompositionMode_SourceOver);
    painter.setRenderHint(QPainter::Antialiasing);
    for (int i = 0; i < m_offers.size(); ++i)
        if (m_offers[i].found.group != SubjectGroup::Main &&
            placeOf(m_offers[i], view).intersects(stale))
            paintOffer(painter, view, i, false);
}

void SubjectTool::paintOffer(QPainter &painter, const ViewTransform &view, int offer,
                             bool isLit) const
{
    const QPainterPath &outline = m_offers[offer].outline;
    const QRectF box = view.boxOf(m_offers[offer].found.box);
    if (outline.isEmpty() && isLit) {
        drawThreadBox(painter, box, 6);
        return;
    }
    QPainterPath path;
    if (outline.isEmpty())
        path.addRoundedRect(box, 6, 6);
    else
        path = seen(outline, view);
    if (isLit)
        painter.fillPath(path, threadOnPhoto(50));
    painter.strokePath(path, QPen(inkOnPhoto(130), isLit ? 4.5 : 3.0));
    painter.strokePath(path, QPen(threadOnPhoto(isLit ? 255 : 200), isLit ? 2.2 : 1.0));
}

} // namespace buttonhole::app
