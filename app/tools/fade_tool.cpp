#include "tools/fade_tool.h"

#include "style/thread_colours.h"

#include <QPainter>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kHandlePx = 9; ///< of the screen

QPointF pointOf(const PhotoPoint &p)
{
    return {p.x, p.y};
}

} // namespace

const Fade *FadeTool::selectedFade() const
{
    const Step *step = selectedStep();
    return step ? &static_cast<const FadeStep &>(*step->shape).fade() : nullptr;
}

/// The end of a round fade's other axis.
PhotoPoint FadeTool::sideOf(const Fade &fade)
{
    const float dx = fade.to.x - fade.from.x;
    const float dy = fade.to.y - fade.from.y;
    return {fade.from.x - dy * fade.ratio, fade.from.y + dx * fade.ratio};
}

FadeTool::Hold FadeTool::handleAt(const Fade &fade, const PointerEvent &event) const
{
    const double near = kHandlePx * event.pixel;
    if (fade.isRound && distance(sideOf(fade), event.at()) <= near)
        return Hold::Side;
    if (distance(fade.to, event.at()) <= near)
        return Hold::To;
    if (distance(fade.from, event.at()) <= near)
        return fade.isRound ? Hold::Middle : Hold::From;
    const PhotoPoint middle{(fade.from.x + fade.to.x) / 2, (fade.from.y + fade.to.y) / 2};
    if (!fade.isRound && distance(middle, event.at()) <= near)
        return Hold::Middle;
    return Hold::None;
}

void FadeTool::press(const PointerEvent &event)
{
    if (isBusy() || !takeHold())
        return;
    m_start = event;
    m_opposite = event.opposite;
    const Fade *fade = selectedFade();
    m_hold = fade && !event.opposite ? handleAt(*fade, event) : Hold::None;
    if (m_hold != Hold::None) {
        m_fade = m_startFade = *fade;
        m_stepId = m_session.step()->id;
        return;
    }
    m_hold = Hold::New;
    m_stepId = 0;
    m_fade = {};
    m_fade.isRound = m_isRound;
    m_fade.feather = m_isRound ? 0.5F : 1.0F;
    m_fade.from = m_fade.to = event.at();
}

void FadeTool::move(const PointerEvent &event)
{
    if (!isBusy())
        return;
    const PhotoPoint at = event.at();
    switch (m_hold) {
    case Hold::None:
        return;
    case Hold::From:
        m_fade.from = at;
        break;
    case Hold::To:
    case Hold::New:
        m_fade.to = at;
        break;
    case Hold::Side: {
        const double axis = distance(m_fade.from, m_fade.to);
        m_fade.ratio = std::clamp(float(distance(m_fade.from, event.at()) / std::max(axis, 1.0)),
                                  0.05F, 20.0F);
        break;
    }
    case Hold::Middle: {
        const float dx = event.point.x - m_start.point.x;
        const float dy = event.point.y - m_start.point.y;
        m_fade.from = {m_startFade.from.x + dx, m_startFade.from.y + dy};
        m_fade.to = {m_startFade.to.x + dx, m_startFade.to.y + dy};
        break;
    }
    }
    if (distance(m_fade.from, m_fade.to) < 3 * event.pixel)
        return; // no length yet
    show(std::make_shared<FadeStep>(m_fade), m_sign.of(m_opposite), m_stepId);
}

void FadeTool::release()
{
    if (!isBusy())
        return;
    const bool isNew = m_hold == Hold::New;
    m_hold = Hold::None;
    finish(isNew ? tr("Fade") : tr("Fade moved"));
    Q_EMIT marksChanged();
}

void FadeTool::drop()
{
    m_hold = Hold::None;
    cancel();
    Q_EMIT marksChanged();
}

void FadeTool::paintMarks(QPainter &painter, const ViewTransform &view) const
{
    const Fade *selected = isBusy() ? &m_fade : selectedFade();
    if (!selected)
        return;
    const QPointF from = view.toWidget(pointOf(selected->from));
    const QPointF to = view.toWidget(pointOf(selected->to));
    const auto twice = [&](const auto &draw) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(inkOnPhoto(180), 3));
        draw();
        painter.setPen(QPen(threadOnPhoto(), 1.4));
        draw();
    };
    if (selected->isRound) {
        const QPointF side = view.toWidget(pointOf(sideOf(*selected)));
        const double rx = std::hypot(to.x() - from.x(), to.y() - from.y());
        painter.save();
        painter.translate(from);
        painter.rotate(std::atan2(to.y() - from.y(), to.x() - from.x()) * 180 / M_PI);
        twice([&] {
            painter.drawEllipse(QPointF(), rx, rx * double(selected->ratio));
            const double inner = std::max(0.0F, 1 - selected->feather);
            painter.drawEllipse(QPointF(), rx * inner, rx * double(selected->ratio) * inner);
        });
        painter.restore();
        twice([&] { painter.drawEllipse(side, 4, 4); });
    } else {
        twice([&] {
            painter.drawLine(from, to);
            // Where colour begins to fade and where it has gone.
            const QPointF along = to - from;
            const double length = std::max(std::hypot(along.x(), along.y()), 1.0);
            const QPointF across(-along.y() / length * 40, along.x() / length * 40);
            const QPointF begins = from + along * (1 - selected->feather);
            painter.drawLine(begins - across, begins + across);
            painter.drawLine(to - across, to + across);
            painter.drawEllipse((from + to) / 2, 4, 4);
        });
    }
    for (const QPointF &handle : {from, to}) {
        painter.setPen(QPen(inkOnPhoto(200), 1.2));
        painter.setBrush(handle == from ? threadOnPhoto() : QColor(0x8A, 0x8A, 0x8A));
        painter.drawEllipse(handle, 5.5, 5.5);
    }
}

} // namespace buttonhole::app
