#include "prepare/clean_hand.h"

#include "commands/move_words.h"
#include "style/thread_colours.h"

#include <QKeyEvent>
#include <QPainter>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kLeastRing = 5; ///< logical px: smaller could not be hit

QPointF placeOf(const SpotMend &mend, const ViewTransform &view)
{
    return view.toWidget(QPointF(double(mend.spot.x), double(mend.spot.y)));
}

double ringOf(const SpotMend &mend, const ViewTransform &view)
{
    return std::max(kLeastRing, double(mend.spot.radiusPx) * view.logicalScale() + 2);
}

} // namespace

CleanHand::CleanHand(Session &session, QObject *parent) : Hand(parent), m_session(session)
{
    connect(&session, &Session::takeChanged, this, [this](const SeenChange &what) {
        if (!what.parts.prepare || m_isDragging)
            return;
        if (m_selected >= int(mendsOf(*m_session.take()).size()))
            select(-1);
    });
}

void CleanHand::setActive(bool active)
{
    if (m_isActive == active)
        return;
    drop();
    m_isActive = active;
    Q_EMIT changed();
}

void CleanHand::select(int mend)
{
    if (m_selected == mend)
        return;
    m_selected = mend;
    Q_EMIT changed();
    Q_EMIT selectedChanged();
}

int CleanHand::mendAt(const QPointF &at, const ViewTransform &view) const
{
    const auto &mends = mendsOf(*m_session.take());
    for (int i = int(mends.size()) - 1; i >= 0; --i) {
        const QPointF away = placeOf(mends[size_t(i)], view) - at;
        if (std::hypot(away.x(), away.y()) <= ringOf(mends[size_t(i)], view))
            return i;
    }
    return -1;
}

void CleanHand::press(const QPointF &at, const ViewTransform &view)
{
    m_isDragging = true;
    m_hasMoved = m_isNew = false;
    if (const int mend = mendAt(at, view); mend >= 0) {
        select(mend);
        return;
    }
    const QPointF photo = view.toPhoto(at);
    if (!QRectF(0, 0, m_session.levels()->photo().width, m_session.levels()->photo().height)
             .contains(photo))
        return;
    Take take = m_session.work().take();
    std::vector<SpotMend> mends = mendsOf(take);
    if (mends.size() >= Mends::kMost)
        return;
    std::vector<Spot> others;
    for (const SpotMend &mend : mends)
        others.push_back(mend.spot);
    const Spot spot{float(photo.x()), float(photo.y()), m_radiusPx};
    mends.push_back({spot, findSpotSource(*m_session.levels(), spot, others)});
    const int made = int(mends.size()) - 1;
    m_session.showLive(withMends(std::move(take), std::move(mends)), {});
    m_isNew = m_hasMoved = true;
    select(made);
}

void CleanHand::drag(const QPointF &at, const ViewTransform &view)
{
    const auto &now = mendsOf(*m_session.take());
    if (!m_isDragging || m_selected < 0 || m_selected >= int(now.size()))
        return;
    const QPointF photo = view.toPhoto(at);
    std::vector<SpotMend> mends = now;
    SpotMend &mend = mends[size_t(m_selected)];
    const auto dx = int(std::lround(photo.x() - double(mend.spot.x)));
    const auto dy = int(std::lround(photo.y() - double(mend.spot.y)));
    constexpr double kLeastAway = 1; // radii: a press that trembles moves nothing
    if (std::hypot(dx, dy) < kLeastAway * double(mend.spot.radiusPx))
        return;
    mend.from = {dx, dy};
    m_hasMoved = true;
    m_session.showLive(withMends(m_session.work().take(), std::move(mends)), {});
}

void CleanHand::release()
{
    if (!std::exchange(m_isDragging, false) || !m_hasMoved)
        return;
    m_session.commitLive(ofPrepare(m_isNew ? tr("Mended spot") : tr("Source of a mend")));
    Q_EMIT changed();
}

bool CleanHand::drop()
{
    if (!std::exchange(m_isDragging, false) || !m_hasMoved)
        return false;
    if (m_isNew)
        select(-1);
    m_session.dropLive({});
    return true;
}

void CleanHand::remove()
{
    Take take = m_session.work().take();
    std::vector<SpotMend> mends = mendsOf(take);
    if (m_selected < 0 || m_selected >= int(mends.size()))
        return;
    mends.erase(mends.begin() + m_selected);
    select(-1);
    m_session.edit(ofPrepare(tr("Mend removed")), withMends(std::move(take), std::move(mends)));
}

bool CleanHand::key(const QKeyEvent &event)
{
    if (event.key() != Qt::Key_Delete && event.key() != Qt::Key_Backspace)
        return false;
    remove();
    return true;
}

bool CleanHand::takesKey(const QKeyEvent &event) const
{
    return m_selected >= 0 && (event.key() == Qt::Key_Delete || event.key() == Qt::Key_Backspace);
}

Qt::CursorShape CleanHand::cursorAt(const QPointF &at, const ViewTransform &view) const
{
    return mendAt(at, view) >= 0 ? Qt::PointingHandCursor : Qt::CrossCursor;
}

void CleanHand::paint(QPainter &painter, const ViewTransform &view, const QColor &) const
{
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    const auto ring = [&](const QPointF &at, double radius, Qt::PenStyle style) {
        painter.setPen(QPen(inkOnPhoto(150), 3));
        painter.drawEllipse(at, radius, radius);
        painter.setPen(QPen(threadOnPhoto(), 1.5, style));
        painter.drawEllipse(at, radius, radius);
    };
    const auto &mends = mendsOf(*m_session.take());
    for (int i = 0; i < int(mends.size()); ++i) {
        const SpotMend &mend = mends[size_t(i)];
        const QPointF at = placeOf(mend, view);
        const double radius = ringOf(mend, view);
        ring(at, radius, mend.on ? Qt::SolidLine : Qt::DotLine);
        if (i != m_selected)
            continue;
        const QPointF from = view.toWidget(
            QPointF(double(mend.spot.x) + mend.from.dx, double(mend.spot.y) + mend.from.dy));
        ring(from, radius, Qt::DashLine);
        const QPointF way = at - from;
        const double length = std::hypot(way.x(), way.y());
        if (length > 2 * radius) {
            const QPointF step = way / length * radius;
            painter.drawLine(from + step, at - step);
        }
    }
}

} // namespace buttonhole::app
