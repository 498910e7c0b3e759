#include "prepare/level_hand.h"

#include "commands/move_words.h"
#include "style/thread_colours.h"

#include <QKeyEvent>
#include <QPainter>

#include <cmath>

namespace buttonhole::app
{

namespace
{

PhotoPoint pointAt(const QPointF &at, const ViewTransform &view)
{
    const QPointF photo = view.toPhoto(at);
    return {float(photo.x()), float(photo.y())};
}

QPointF placeOf(const PhotoPoint &point, const ViewTransform &view)
{
    return view.toWidget(QPointF(double(point.x), double(point.y)));
}

} // namespace

void LevelHand::setActive(bool active)
{
    if (m_isActive == active)
        return;
    m_isActive = active;
    m_isDrawing = false;
    m_lines.clear();
    Q_EMIT changed();
}

void LevelHand::press(const QPointF &at, const ViewTransform &view)
{
    constexpr size_t kMost = 4;
    if (m_lines.size() >= kMost)
        m_lines.clear();
    m_lines.push_back({pointAt(at, view), pointAt(at, view)});
    m_isDrawing = true;
}

void LevelHand::drag(const QPointF &at, const ViewTransform &view)
{
    if (!m_isDrawing)
        return;
    m_lines.back().to = pointAt(at, view);
    Q_EMIT changed();
}

void LevelHand::release()
{
    if (!std::exchange(m_isDrawing, false))
        return;
    constexpr float kLeastPx = 20; // of the photo: shorter is a click
    const DrawnLine &line = m_lines.back();
    if (std::hypot(line.to.x - line.from.x, line.to.y - line.from.y) < kLeastPx) {
        m_lines.pop_back();
        return;
    }
    const Photo &photo = m_session.levels()->photo();
    Take take = m_session.work().take();
    take.geometry.straightening = straightenedBy(m_lines, take.geometry.straightening,
                                                 distortionOf(take), photo.width, photo.height);
    m_session.edit(ofPrepare(tr("Drawn line")),
                   withFilledCrop(std::move(take), photo.width, photo.height));
    Q_EMIT changed();
}

bool LevelHand::drop()
{
    if (std::exchange(m_isDrawing, false)) {
        m_lines.pop_back();
        Q_EMIT changed();
        return true;
    }
    if (!isActive())
        return false;
    setActive(false);
    return true;
}

bool LevelHand::key(const QKeyEvent &event)
{
    if (event.key() != Qt::Key_Return && event.key() != Qt::Key_Enter)
        return false;
    setActive(false);
    return true;
}

void LevelHand::paint(QPainter &painter, const ViewTransform &view, const QColor &) const
{
    painter.setRenderHint(QPainter::Antialiasing);
    for (const DrawnLine &line : m_lines) {
        const QPointF from = placeOf(line.from, view);
        const QPointF to = placeOf(line.to, view);
        painter.setPen(QPen(inkOnPhoto(190), 3.5, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(from, to);
        painter.setPen(QPen(threadOnPhoto(), 1.7, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(from, to);
    }
}

} // namespace buttonhole::app
