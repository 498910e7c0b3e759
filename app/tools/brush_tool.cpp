#include "tools/brush_tool.h"

#include "tools/toolbox.h"

#include "commands/move_words.h"
#include "style/thread_colours.h"

#include <QPainter>

namespace buttonhole::app
{

QString BrushTool::help() const
{
    return tr("Paint over what should stay in colour, or press %1 to look for subjects.")
        .arg(keyOfTool("subject"));
}

void BrushTool::setTip(const Tip &tip)
{
    if (m_tip == tip)
        return;
    m_tip = tip;
    m_tip.sizePx = std::clamp(m_tip.sizePx, kMinTipPx, kMaxTipPx);
    m_tip.softness = std::clamp(m_tip.softness, 0.0F, 1.0F);
    if (m_tip.edgeHold > 0)
        m_strictness = m_tip.edgeHold;
    Q_EMIT tipChanged();
}

void BrushTool::holdToEdges(bool holds)
{
    Tip tip = m_tip;
    tip.edgeHold = holds ? m_strictness : 0;
    setTip(tip);
}

void BrushTool::reset()
{
    forgetStroke();
    m_lastPoint.reset();
}

/// Masks are large: what was painted on is not held beyond the stroke.
void BrushTool::forgetStroke()
{
    m_painter.reset();
    m_base = {};
    m_strokes.clear();
    m_planes = {};
}

void BrushTool::findOrStartStep(bool opposite)
{
    const MaskedLine *line = m_session.masked();
    m_lineId = line->id;
    m_base = *m_session.take();
    m_opposite = opposite;
    // The selected step, or the mask's last one, goes on if it is a brush of this sign.
    const Step *last = m_session.step();
    if (!last || last->shape->kind() != "brush")
        last = line->steps.empty() ? nullptr : &line->steps.back();
    const auto *brush = last && last->on && !last->invert && last->sign == m_sign.sign
                            ? dynamic_cast<const BrushStep *>(last->shape.get())
                            : nullptr;
    if (brush && brush->planes().lo.isEmpty()) // not painted yet: that is not this thread's work
        brush = nullptr;
    m_startsStep = brush == nullptr;
    if (brush) {
        m_stepId = last->id;
        m_strokes = brush->strokes();
        m_planes = brush->planes();
        return;
    }
    const Photo &photo = m_session.levels()->photo();
    m_strokes.clear();
    m_planes = BrushPlanes(photo.width, photo.height);
    m_base = withNewStep(std::move(m_base), m_lineId, m_sign.sign,
                         std::make_shared<BrushStep>(m_strokes, m_planes), &m_stepId);
}

void BrushTool::press(const PointerEvent &event)
{
    if (m_painter || !takeHold())
        return;
    findOrStartStep(event.opposite);
    Stroke stroke;
    stroke.tip = m_tip;
    stroke.takesBack = event.opposite;
    m_painter = std::make_unique<StrokePainter>(m_planes, stroke, m_session.levels().get());
    m_pieceStart = event.timeMs;
    m_touched = {};
    Rect dirty;
    if (event.fromLastPoint && m_lastPoint)
        dirty = m_painter->addPoint(*m_lastPoint);
    dirty = united(dirty, m_painter->addPoint(event.point));
    m_hand = m_drawn = event.point;
    m_drawnSoFar = {event.point};
    // A step that keeps only what is inside it empties all the rest at once.
    if (m_startsStep && m_sign.sign == Sign::OnlyInside)
        dirty = m_session.levels()->photo().rect();
    showLive(dirty);
}

void BrushTool::move(const PointerEvent &event)
{
    if (!m_painter)
        return;
    m_hand = event.point;
    const float follows = 1 - 0.92F * m_steadiness;
    m_drawn = {m_drawn.x + (m_hand.x - m_drawn.x) * follows,
               m_drawn.y + (m_hand.y - m_drawn.y) * follows, m_hand.pressure};
    const Rect dirty = m_painter->addPoint(m_drawn);
    m_drawnSoFar.push_back(m_drawn);
    if (!dirty.isEmpty())
        showLive(dirty);
    if (event.timeMs - m_pieceStart >= kPieceMs) {
        m_pieceStart = event.timeMs;
        commit(m_painter->cut());
    }
}

void BrushTool::release()
{
    if (!m_painter)
        return;
    Rect dirty;
    if (m_steadiness > 0) // the line catches up with the hand
        dirty = m_painter->addPoint(m_hand);
    m_lastPoint = m_painter->stroke().points.back();
    dirty = united(dirty, m_painter->finish());
    if (!dirty.isEmpty())
        showLive(dirty);
    // A piece that was cut and got no further point or dab has nothing of its own.
    const Stroke &stroke = m_painter->stroke();
    const bool isEmpty = stroke.continues && stroke.points.size() < 2 && dirty.isEmpty();
    if (!isEmpty)
        commit(stroke);
    forgetStroke();
}

void BrushTool::drop()
{
    if (!m_painter)
        return;
    forgetStroke();
    m_session.dropLive(m_sign.sign == Sign::OnlyInside ? Rect{} : m_touched);
}

void BrushTool::showLive(const Rect &dirty)
{
    m_touched = united(m_touched, dirty);
    m_session.showLive(withStep(m_base, m_lineId, m_stepId,
                                [&](Step &step) {
                                    step.shape = std::make_shared<BrushStep>(m_strokes, m_planes);
                                }),
                       dirty);
}

void BrushTool::paintMarks(QPainter &painter, const ViewTransform &view) const
{
    if (!m_painter || !isMark(m_sign.sign))
        return;
    QPolygonF line;
    for (const StrokePoint &point : m_drawnSoFar)
        line << view.toWidget({double(point.x), double(point.y)});
    line << line.back() + QPointF(0.01, 0); // one point alone is drawn, too
    const QColor colour = m_opposite ? inkOnPhoto(110) : threadOnPhoto(110);
    painter.setPen(QPen(colour, double(m_tip.sizePx) * view.logicalScale(), Qt::SolidLine,
                        Qt::RoundCap, Qt::RoundJoin));
    painter.drawPolyline(line);
}

void BrushTool::commit(Stroke piece)
{
    const bool continues = piece.continues;
    m_strokes.push_back(std::make_shared<const Stroke>(std::move(piece)));
    m_planes.lo.compact(m_touched);
    m_planes.hi.compact(m_touched);
    showLive({0, 0, 1, 1}); // the strokes changed, no pixel did
    const bool takesBack = m_opposite != (m_sign.sign == Sign::Subtract);
    const QString what = m_sign.sign == Sign::OnlyInside ? tr("Brush, only inside,")
                         : m_sign.sign == Sign::Fuzz     ? tr("Fuzz marked")
                         : m_sign.sign == Sign::Spill    ? tr("Spill marked")
                         : takesBack                     ? tr("Brush taking back")
                                                         : tr("Brush");
    m_session.commitLive(onMask(m_session, what) + (continues ? tr(", went on") : QString()));
    m_base = *m_session.take();
    m_touched = {};
}

} // namespace buttonhole::app
