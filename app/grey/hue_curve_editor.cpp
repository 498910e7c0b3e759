#include "grey/hue_curve_editor.h"

#include "style/hue_colour.h"
#include "style/theme.h"
#include "tone/hue_curve.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kGrip = 5;
constexpr double kReach = 9; // of a click around a point

} // namespace

HueCurveEditor::HueCurveEditor(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Hue curve"));
    setToolTip(
        tr("How light each hue becomes. Click to add a point, drag to move it, wheel for its "
           "width, double-click to remove it.\n"
           "Keys: arrows, Ctrl+arrows for the hue, + and − for the width, Insert, Delete."));
}

QRectF HueCurveEditor::plot() const
{
    return QRectF(rect()).adjusted(6.5, 6.5, -6.5, -15.5);
}

QPointF HueCurveEditor::at(double hueDeg, double value) const
{
    const QRectF p = plot();
    return {p.left() + p.width() * hueDeg / 360, p.center().y() - p.height() / 2 * value / 100};
}

void HueCurveEditor::setHues(const std::array<float, 360> &hues)
{
    m_hues = hues;
    update();
}

void HueCurveEditor::setPoints(const std::vector<HuePoint> &points)
{
    m_points = points;
    if (m_chosen >= int(points.size()))
        choose(int(points.size()) - 1);
    setAccessibleDescription(m_points.empty() ? tr("no points")
                                              : tr("%n points", nullptr, int(points.size())));
    update();
}

void HueCurveEditor::choose(int index)
{
    if (m_chosen == index)
        return;
    m_chosen = index;
    Q_EMIT chosenChanged();
    update();
}

int HueCurveEditor::pointAt(const QPointF &position) const
{
    for (int i = 0; i < int(m_points.size()); ++i) {
        const QPointF off = at(m_points[size_t(i)].hueDeg, m_points[size_t(i)].value) - position;
        if (std::hypot(off.x(), off.y()) <= kReach)
            return i;
    }
    return -1;
}

void HueCurveEditor::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Felt &f = felt();
    const QRectF p = plot();
    painter.setPen(QPen(f.line, 1));
    painter.setBrush(f.card);
    painter.drawRoundedRect(p, 4, 4);
    // What colours there are: bars that stand on the bottom, each in its hue.
    painter.setPen(Qt::NoPen);
    const double bar = p.width() / 360;
    for (int hue = 0; hue < 360; ++hue) {
        const double h = std::sqrt(double(m_hues[size_t(hue)])) * p.height() * 0.62;
        if (h > 0.5)
            painter.fillRect(QRectF(p.left() + hue * bar, p.bottom() - h, bar + 0.6, h),
                             colourOfHue(hue, 0.76, 0.10));
        painter.fillRect(QRectF(p.left() + hue * bar, p.bottom() + 4, bar + 0.6, 6),
                         colourOfHue(hue));
    }
    painter.setPen(QPen(f.softInk, 1, Qt::DotLine));
    painter.drawLine(at(0, 0), at(360, 0));
    const HueCurve curve(m_points);
    QPainterPath path(at(0, curve.value(0)));
    for (int hue = 1; hue <= 360; ++hue)
        path.lineTo(at(hue, curve.value(hue)));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(f.card, 4));
    painter.drawPath(path);
    painter.setPen(QPen(f.ink, 1.8));
    painter.drawPath(path);
    for (int i = 0; i < int(m_points.size()); ++i) {
        const HuePoint &point = m_points[size_t(i)];
        if (i == m_chosen) { // its reach
            painter.setPen(QPen(f.thread, 1.5));
            const double y = p.bottom() + 2;
            painter.drawLine(
                QPointF(std::max(p.left(), at(point.hueDeg - point.widthDeg, 0).x()), y),
                QPointF(std::min(p.right(), at(point.hueDeg + point.widthDeg, 0).x()), y));
        }
        painter.setPen(QPen(f.card, 1.5));
        painter.setBrush(i == m_chosen ? f.thread : f.ink);
        painter.drawEllipse(at(point.hueDeg, point.value), kGrip, kGrip);
    }
    if (hasFocus())
        drawFocusStitch(painter, QRectF(rect()).adjusted(1, 1, -1, -1));
}

void HueCurveEditor::change()
{
    update();
    Q_EMIT pointsChanged(m_points);
}

void HueCurveEditor::moveChosen(float hueDeg, float value)
{
    if (m_chosen < 0)
        return;
    HuePoint &point = m_points[size_t(m_chosen)];
    // A point stays between its neighbours.
    float least = 0;
    float most = 359.5F;
    if (m_chosen > 0)
        least = m_points[size_t(m_chosen) - 1].hueDeg + kLeastHueGap;
    if (m_chosen + 1 < int(m_points.size()))
        most = m_points[size_t(m_chosen) + 1].hueDeg - kLeastHueGap;
    point.hueDeg = std::clamp(hueDeg, least, std::max(least, most));
    point.value = std::clamp(std::round(value), -100.0F, 100.0F);
    change();
}

void HueCurveEditor::mousePressEvent(QMouseEvent *event)
{
    if (event->button() != Qt::LeftButton)
        return;
    const QPointF position = event->position();
    int hit = pointAt(position);
    if (hit < 0) {
        const QRectF p = plot();
        const float hue =
            float(std::clamp((position.x() - p.left()) / p.width() * 360, 0.0, 359.5));
        for (const HuePoint &point : m_points)
            if (std::abs(hueDistance(point.hueDeg, hue)) < double(kLeastHueGap))
                return;
        HuePoint fresh;
        fresh.hueDeg = hue;
        const auto place = std::find_if(m_points.begin(), m_points.end(),
                                        [&](const HuePoint &o) { return o.hueDeg > hue; });
        const auto at = m_points.insert(place, fresh);
        hit = int(at - m_points.begin());
    }
    m_isDragging = true;
    m_chosen = -1;
    choose(hit);
    const QRectF p = plot();
    moveChosen(m_points[size_t(hit)].hueDeg,
               float((p.center().y() - position.y()) / (p.height() / 2) * 100));
}

void HueCurveEditor::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_isDragging)
        return;
    const QRectF p = plot();
    moveChosen(float((event->position().x() - p.left()) / p.width() * 360),
               float((p.center().y() - event->position().y()) / (p.height() / 2) * 100));
}

void HueCurveEditor::mouseReleaseEvent(QMouseEvent *)
{
    if (m_isDragging)
        Q_EMIT released();
    m_isDragging = false;
}

void HueCurveEditor::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (const int hit = pointAt(event->position()); hit >= 0) {
        choose(hit);
        removeChosen();
    }
}

void HueCurveEditor::widen(float factor)
{
    if (m_chosen < 0)
        return;
    float &width = m_points[size_t(m_chosen)].widthDeg;
    width = std::clamp(std::round(width * factor), kLeastHueWidth, 180.0F);
    change();
}

void HueCurveEditor::removeChosen()
{
    if (m_chosen < 0)
        return;
    Q_EMIT released(); // what the keys did before is a step of its own
    m_points.erase(m_points.begin() + m_chosen);
    choose(std::min(m_chosen, int(m_points.size()) - 1));
    change();
    Q_EMIT released();
}

void HueCurveEditor::insertAtPeak()
{
    int best = -1;
    for (int hue = 0; hue < 360; ++hue) {
        const bool isFree = std::none_of(m_points.begin(), m_points.end(), [&](const HuePoint &p) {
            return std::abs(hueDistance(p.hueDeg, hue)) < 25;
        });
        if (isFree && (best < 0 || m_hues[size_t(hue)] > m_hues[size_t(best)]))
            best = hue;
    }
    if (best >= 0) {
        Q_EMIT released();
        choose(int(grabHuePoint(m_points, float(best))));
        change();
    }
}

void HueCurveEditor::wheelEvent(QWheelEvent *event)
{
    if (!hasFocus()) {
        event->ignore();
        return;
    }
    widen(std::pow(1.1F, float(event->angleDelta().y()) / 120.0F));
    Q_EMIT released();
}

void HueCurveEditor::keyPressEvent(QKeyEvent *event)
{
    const int count = int(m_points.size());
    const bool turns = event->modifiers().testFlag(Qt::ControlModifier);
    const float step = event->modifiers().testFlag(Qt::ShiftModifier) ? 1 : 5;
    const bool has = m_chosen >= 0 && m_chosen < count;
    const HuePoint point = has ? m_points[size_t(m_chosen)] : HuePoint();
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right: {
        const int sign = event->key() == Qt::Key_Left ? -1 : 1;
        if (turns && has)
            moveChosen(point.hueDeg + float(sign) * step, point.value);
        else if (count > 0)
            choose((m_chosen + sign + count) % count);
        break;
    }
    case Qt::Key_Up:
        moveChosen(point.hueDeg, point.value + step);
        break;
    case Qt::Key_Down:
        moveChosen(point.hueDeg, point.value - step);
        break;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        widen(1.1F);
        break;
    case Qt::Key_Minus:
        widen(1 / 1.1F);
        break;
    case Qt::Key_Insert:
        insertAtPeak();
        break;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        removeChosen();
        return;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    event->accept();
}

} // namespace buttonhole::app
