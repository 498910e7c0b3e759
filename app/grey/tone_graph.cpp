#include "grey/tone_graph.h"

#include "style/theme.h"
#include "tone/tone_curve.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kGrab = 9;
constexpr float kLeastGap = 0.02F; // between points of the curve

} // namespace

ToneGraph::ToneGraph(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Tones: black, middle and white point, and the curve"));
    setToolTip(
        tr("Drag the marks below for black, middle and white. Click in the graph to bend the "
           "curve, double-click a point to remove it.\n"
           "Keys: Left and Right choose, Up and Down move, Ctrl+arrows sideways, Insert, "
           "Delete."));
}

QRectF ToneGraph::plot() const
{
    return QRectF(rect()).adjusted(6.5, 6.5, -6.5, -17.5);
}

QPointF ToneGraph::at(double x, double y) const
{
    const QRectF p = plot();
    return {p.left() + p.width() * x, p.bottom() - p.height() * y};
}

QPointF ToneGraph::handleAt(int handle) const
{
    const double span = double(m_tone.white - m_tone.black);
    const double x = handle == 0   ? double(m_tone.black)
                     : handle == 1 ? double(m_tone.black) + span * double(m_tone.middle)
                                   : double(m_tone.white);
    return {at(x, 0).x(), plot().bottom() + 7};
}

void ToneGraph::setTone(const Tone &tone)
{
    m_tone = tone;
    m_chosen = std::min(m_chosen, kHandles + int(tone.curve.size()) - 1);
    update();
}

void ToneGraph::setHistogram(const ToneHistogram &histogram)
{
    m_histogram = histogram;
    update();
}

void ToneGraph::paintHistogram(QPainter &painter) const
{
    float most = 1e-6F;
    for (size_t i = 1; i + 1 < ToneHistogram::kBins; ++i)
        most = std::max({most, m_histogram.before[i], m_histogram.after[i]});
    const auto outline = [&](const auto &bins) {
        QPainterPath path(at(0, 0));
        for (int i = 0; i < ToneHistogram::kBins; ++i)
            path.lineTo(at((i + 0.5) / ToneHistogram::kBins,
                           std::min(1.0, 0.9 * std::sqrt(double(bins[size_t(i)] / most)))));
        path.lineTo(at(1, 0));
        return path;
    };
    const Felt &f = felt();
    painter.setPen(Qt::NoPen);
    painter.setBrush(f.line);
    painter.drawPath(outline(m_histogram.before));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(f.softInk, 1));
    painter.drawPath(outline(m_histogram.after));
}

void ToneGraph::paintHandles(QPainter &painter) const
{
    const Felt &f = felt();
    const QColor fills[] = {QColor(0x1A, 0x1A, 0x1A), QColor(0x80, 0x80, 0x80),
                            QColor(0xFF, 0xFF, 0xFF)};
    for (int i = 0; i < kHandles; ++i) {
        const QPointF tip = handleAt(i);
        const QPolygonF mark({tip + QPointF(0, -6), tip + QPointF(5.5, 5), tip + QPointF(-5.5, 5)});
        painter.setBrush(fills[i]);
        painter.setPen(QPen(i == m_chosen ? f.thread : f.softInk, i == m_chosen ? 2 : 1.2));
        painter.drawPolygon(mark);
    }
}

void ToneGraph::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Felt &f = felt();
    const QRectF p = plot();
    painter.setPen(QPen(f.line, 1));
    painter.setBrush(f.card);
    painter.drawRoundedRect(p, 4, 4);
    painter.save();
    painter.setClipRect(p);
    paintHistogram(painter);
    painter.restore();
    painter.setPen(QPen(f.softInk, 1, Qt::DotLine));
    painter.drawLine(at(0, 0), at(1, 1));
    const std::vector<float> curve = makeToneCurve(m_tone);
    QPainterPath path(at(0, curve[0]));
    for (int i = 8; i <= kToneSteps; i += 8)
        path.lineTo(at(double(i) / kToneSteps, curve[size_t(i)]));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(f.ink, 1.8));
    painter.drawPath(path);
    for (int i = 0; i < int(m_tone.curve.size()); ++i) {
        const CurvePoint &point = m_tone.curve[size_t(i)];
        painter.setPen(QPen(f.card, 1.5));
        painter.setBrush(i + kHandles == m_chosen ? f.thread : f.ink);
        painter.drawEllipse(at(point.x, point.y), 5, 5);
    }
    paintHandles(painter);
    if (hasFocus())
        drawFocusStitch(painter, QRectF(rect()).adjusted(1, 1, -1, -1));
}

int ToneGraph::itemAt(const QPointF &position) const
{
    const auto isNear = [&](const QPointF &p) {
        return std::hypot(p.x() - position.x(), p.y() - position.y()) <= kGrab;
    };
    for (const int handle : {1, 0, 2})
        if (isNear(handleAt(handle)))
            return handle;
    for (int i = 0; i < int(m_tone.curve.size()); ++i)
        if (isNear(at(m_tone.curve[size_t(i)].x, m_tone.curve[size_t(i)].y)))
            return kHandles + i;
    return -1;
}

void ToneGraph::change()
{
    update();
    Q_EMIT toneChanged(m_tone);
}

void ToneGraph::moveItem(int item, const QPointF &to)
{
    const auto x = float(to.x());
    if (item == 0) {
        m_tone.black = std::clamp(x, 0.0F, std::min(0.5F, m_tone.white - 0.05F));
    } else if (item == 1) {
        m_tone.middle = std::clamp((x - m_tone.black) / (m_tone.white - m_tone.black), 0.1F, 0.9F);
    } else if (item == 2) {
        m_tone.white = std::clamp(x, std::max(0.5F, m_tone.black + 0.05F), 1.0F);
    } else {
        auto &curve = m_tone.curve;
        const auto i = size_t(item - kHandles);
        const float least = i > 0 ? curve[i - 1].x + kLeastGap : 0;
        const float most = i + 1 < curve.size() ? curve[i + 1].x - kLeastGap : 1;
        curve[i] = {std::clamp(x, least, std::max(least, most)),
                    std::clamp(float(to.y()), 0.0F, 1.0F)};
    }
    change();
}

void ToneGraph::addPoint(CurvePoint point)
{
    auto &curve = m_tone.curve;
    if (curve.empty()) // the ends become points too, to be lifted or lowered
        curve = {{0, 0}, {1, 1}};
    const auto place = std::find_if(curve.begin(), curve.end(),
                                    [&](const CurvePoint &o) { return o.x > point.x; });
    const bool isFree = std::none_of(curve.begin(), curve.end(), [&](const CurvePoint &o) {
        return std::abs(o.x - point.x) < kLeastGap;
    });
    if (!isFree)
        return;
    const auto at = curve.insert(place, point);
    m_chosen = kHandles + int(at - curve.begin());
    change();
}

void ToneGraph::removeItem(int item)
{
    if (item < kHandles)
        return;
    Q_EMIT released(); // what the keys did before is a step of its own
    auto &curve = m_tone.curve;
    curve.erase(curve.begin() + (item - kHandles));
    const bool isStraight = std::all_of(curve.begin(), curve.end(), [](const CurvePoint &p) {
        return (p.x == 0 && p.y == 0) || (p.x == 1 && p.y == 1);
    });
    if (isStraight)
        curve.clear();
    m_chosen = 0;
    change();
    Q_EMIT released();
}

void ToneGraph::mousePressEvent(QMouseEvent *event)
{
    if (event->button() != Qt::LeftButton)
        return;
    const int hit = itemAt(event->position());
    const QRectF p = plot();
    if (hit >= 0) {
        m_chosen = hit;
        update();
    } else if (p.contains(event->position())) {
        addPoint({float((event->position().x() - p.left()) / p.width()),
                  float((p.bottom() - event->position().y()) / p.height())});
    } else {
        return;
    }
    m_isDragging = true;
}

void ToneGraph::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_isDragging)
        return;
    const QRectF p = plot();
    moveItem(m_chosen, {(event->position().x() - p.left()) / p.width(),
                        (p.bottom() - event->position().y()) / p.height()});
}

void ToneGraph::mouseReleaseEvent(QMouseEvent *)
{
    if (m_isDragging)
        Q_EMIT released();
    m_isDragging = false;
}

void ToneGraph::mouseDoubleClickEvent(QMouseEvent *event)
{
    const int hit = itemAt(event->position());
    if (hit >= kHandles) {
        removeItem(hit);
    } else if (hit >= 0) { // a handle goes back
        const Tone plain;
        (hit == 0   ? m_tone.black
         : hit == 1 ? m_tone.middle
                    : m_tone.white) = hit == 0   ? plain.black
                                      : hit == 1 ? plain.middle
                                                 : plain.white;
        change();
        Q_EMIT released();
    }
}

void ToneGraph::keyPressEvent(QKeyEvent *event)
{
    const int count = kHandles + int(m_tone.curve.size());
    const bool isSideways = event->modifiers().testFlag(Qt::ControlModifier);
    const float step = event->modifiers().testFlag(Qt::ShiftModifier) ? 0.002F : 0.01F;
    const int key = event->key();
    const bool goesUp = key == Qt::Key_Up || key == Qt::Key_Right;
    const float by = goesUp ? step : -step;
    if (key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down) {
        if ((key == Qt::Key_Left || key == Qt::Key_Right) && !isSideways) {
            m_chosen = (m_chosen + (goesUp ? 1 : -1) + count) % count;
            update();
        } else if (m_chosen < kHandles) {
            const QRectF p = plot();
            moveItem(m_chosen, {(handleAt(m_chosen).x() - p.left()) / p.width() + double(by), 0});
        } else {
            const CurvePoint point = m_tone.curve[size_t(m_chosen - kHandles)];
            moveItem(m_chosen,
                     isSideways ? QPointF(point.x + by, point.y) : QPointF(point.x, point.y + by));
        }
    } else if (key == Qt::Key_Insert) {
        Q_EMIT released();
        addPoint({0.5F, float(toneAt(m_tone, 0.5))});
    } else if (key == Qt::Key_Delete || key == Qt::Key_Backspace) {
        removeItem(m_chosen);
    } else {
        QWidget::keyPressEvent(event);
        return;
    }
    event->accept();
}

} // namespace buttonhole::app
