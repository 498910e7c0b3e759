#include "tools/pixel_tools.h"

#include "mask/tone_window.h"
#include "style/theme.h"

#include <QPainter>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kClickPx = 4; ///< of the screen

double screenDistance(const PointerEvent &from, const PointerEvent &to)
{
    return double(std::hypot(to.point.x - from.point.x, to.point.y - from.point.y)) / to.pixel;
}

} // namespace

Rect PickTool::areaOf(const PhotoPoint &from, const PhotoPoint &to) const
{
    const Rect photo = m_session.levels()->photo().rect();
    const auto at = [](float v, int most) { return std::clamp(int(std::floor(v)), 0, most - 1); };
    return {at(std::min(from.x, to.x), photo.x1), at(std::min(from.y, to.y), photo.y1),
            at(std::max(from.x, to.x), photo.x1) + 1, at(std::max(from.y, to.y), photo.y1) + 1};
}

void PickTool::press(const PointerEvent &event)
{
    if (m_isDown || !takeHold())
        return;
    m_isDown = true;
    m_isDragged = false;
    m_start = m_now = event;
}

void PickTool::move(const PointerEvent &event)
{
    if (!m_isDown)
        return;
    m_now = event;
    m_isDragged = m_isDragged || screenDistance(m_start, event) > kClickPx;
    Q_EMIT marksChanged();
}

void PickTool::release()
{
    if (!m_isDown)
        return;
    m_isDown = false;
    const PhotoLevels &levels = *m_session.levels();
    Pick pick{{m_start.point.x, m_start.point.y}, m_start.opposite, {}};
    if (m_isDragged) {
        const Rect area = areaOf(pick.at, {m_now.point.x, m_now.point.y});
        pick.at = {float(area.x0 + area.x1) / 2, float(area.y0 + area.y1) / 2};
        pick.spread = measureSpread(levels, area);
    } else {
        pick.spread = spreadAt(levels, pick.at);
    }
    picked(pick);
    Q_EMIT marksChanged();
}

void PickTool::drop()
{
    m_isDown = false;
    cancel();
    Q_EMIT marksChanged();
}

void PickTool::paintMarks(QPainter &painter, const ViewTransform &view) const
{
    if (!m_isDown || !m_isDragged)
        return;
    const QRectF box = QRectF(view.toWidget({m_start.point.x, m_start.point.y}),
                              view.toWidget({m_now.point.x, m_now.point.y}))
                           .normalized();
    drawThreadBox(painter, box, 4);
}

void ColourWindowTool::picked(const Pick &pick)
{
    const Step *step = selectedStep();
    ColourWindow window;
    if (step)
        window = static_cast<const ColourWindowStep &>(*step->shape).window();
    if (pick.opposite && step) {
        window.excluded.push_back(rangeAround(pick.spread));
    } else {
        window.range = step ? widened(window.range, pick.spread) : rangeAround(pick.spread);
        window.places.push_back(pick.at);
    }
    show(std::make_shared<ColourWindowStep>(window), m_sign.of(pick.opposite), step ? step->id : 0);
    finish(!step           ? tr("Colour window")
           : pick.opposite ? tr("Colour left out")
                           : tr("Colour added"));
}

void ToneWindowTool::picked(const Pick &pick)
{
    const Step *step = selectedStep();
    constexpr float kRoom = 0.06F;
    SoftRange range{std::max(pick.spread.leastLightness - kRoom, 0.0F),
                    std::min(pick.spread.mostLightness + kRoom, 1.0F), 0.06F};
    if (step && !pick.opposite) {
        const SoftRange &before = static_cast<const ToneWindowStep &>(*step->shape).lightness();
        range = {std::min(before.least, range.least), std::max(before.most, range.most),
                 before.soft};
    }
    const bool goesOn = step && !pick.opposite;
    show(std::make_shared<ToneWindowStep>(range), m_sign.of(pick.opposite), goesOn ? step->id : 0);
    finish(goesOn ? tr("Tone added") : tr("Tone window"));
}

void MatchTool::press(const PointerEvent &event)
{
    if (isBusy())
        return;
    PickTool::press(event);
    if (!isBusy())
        return;
    const Step *step = selectedStep();
    const bool goesOn = step != nullptr;
    const Match usual = m_match;
    m_match = {};
    if (goesOn) {
        m_match = static_cast<const MatchStep &>(*step->shape).match();
    } else {
        m_match.soft = usual.soft;
        m_match.isConnected = usual.isConnected;
    }
    m_stepId = goesOn ? step->id : 0;
    m_opposite = event.opposite && !goesOn;
    const PhotoPoint at = event.at();
    m_match.clicks.push_back(
        {at, sampleColour(*m_session.levels(), at, m_tipSide), goesOn && event.opposite});
    m_startReach = m_match.reach;
    showMatch();
}

void MatchTool::showMatch()
{
    show(std::make_shared<MatchStep>(m_match), m_sign.of(m_opposite), m_stepId);
}

void MatchTool::move(const PointerEvent &event)
{
    PickTool::move(event);
    if (!isBusy() || !isDragged())
        return;
    // A hundred px of the screen double or halve it.
    const double right = double(event.point.x - start().point.x) / event.pixel;
    m_match.reach = std::clamp(m_startReach * float(std::exp2(right / 100)), 0.002F, 1.0F);
    showMatch();
}

void MatchTool::release()
{
    if (!isBusy())
        return;
    PickTool::release();
    finish(m_stepId == 0                  ? tr("Match")
           : m_match.clicks.back().isLeft ? tr("Match, left out")
                                          : tr("Match, one more"));
}

void MatchTool::drop()
{
    PickTool::drop();
}

} // namespace buttonhole::app
