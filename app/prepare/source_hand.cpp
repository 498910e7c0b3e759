#include "prepare/source_hand.h"

#include "commands/move_words.h"
#include "style/theme.h"

#include <cmath>
#include <utility>

namespace buttonhole::app
{

void SourceHand::setActive(bool active)
{
    if (m_isActive == active)
        return;
    m_from.reset();
    m_isActive = active;
    Q_EMIT changed();
}

void SourceHand::press(const QPointF &at, const ViewTransform &view)
{
    m_from = view.toPhoto(at);
    m_box = {};
}

void SourceHand::drag(const QPointF &at, const ViewTransform &view)
{
    if (!m_from)
        return;
    const QPointF to = view.toPhoto(at);
    const auto [x0, x1] = std::minmax({m_from->x(), to.x()});
    const auto [y0, y1] = std::minmax({m_from->y(), to.y()});
    m_box =
        intersected(m_session.levels()->photo().rect(), {int(std::floor(x0)), int(std::floor(y0)),
                                                         int(std::ceil(x1)), int(std::ceil(y1))});
    Q_EMIT changed();
}

void SourceHand::release()
{
    if (!std::exchange(m_from, {}))
        return;
    const Removal *removal = m_session.removal();
    constexpr int kLeast = 16; // px: a smaller one was a click
    if (removal && m_box.width() >= kLeast && m_box.height() >= kLeast)
        m_session.edit(ofMask(m_session, tr("Source")),
                       withRemoval(*m_session.take(), removal->id,
                                   [&](Removal &each) { each.source = m_box; }));
    Q_EMIT changed();
}

bool SourceHand::drop()
{
    if (std::exchange(m_from, {})) {
        Q_EMIT changed();
        return true;
    }
    if (!std::exchange(m_isActive, false))
        return false;
    Q_EMIT changed();
    return true;
}

void SourceHand::paint(QPainter &painter, const ViewTransform &view, const QColor &) const
{
    const Rect &box = m_from ? m_box : m_session.removal()->source;
    if (!box.isEmpty())
        drawThreadBox(painter, view.boxOf(box), 4);
}

} // namespace buttonhole::app
