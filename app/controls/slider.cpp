#include "controls/slider.h"

#include "style/hue_colour.h"
#include "style/theme.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QLocale>
#include <QPainter>
#include <QWheelEvent>

#include <cmath>

namespace buttonhole::app
{

namespace
{
constexpr int kHandle = 5; // radius, px
constexpr int kHeight = 34;
} // namespace

Slider::Range Slider::Range::of(const ParamScale &scale, double least, double most, double initial)
{
    Range out;
    out.least = least * scale.factor;
    out.most = most * scale.factor;
    // A float's noise must not show, nor the default be missed by it.
    out.initial = std::round(initial * scale.factor * 1000) / 1000;
    out.unit = QString::fromUtf8(scale.unit);
    out.decimals = scale.decimals;
    out.logarithmic = scale.way == ParamScale::Way::Logarithmic;
    out.showsHues = scale.way == ParamScale::Way::Hues;
    out.eases = scale.way == ParamScale::Way::Eased;
    return out;
}

Slider::Slider(const QString &name, const Range &range, const QString &help, QWidget *parent)
    : QSlider(Qt::Horizontal, parent), m_name(name), m_range(range), m_amount(range.initial)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(name);
    setToolTip(help);
    setRange(int(std::lround(range.least * 10 / range.step)),
             int(std::lround(range.most * 10 / range.step)));
    setValue(int(std::lround(m_amount * 10 / range.step)));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFont(bodyFont());
    // Assistive technology sets the integer value.
    connect(this, &QSlider::valueChanged, this, [this](int v) {
        const double amount = v * m_range.step / 10;
        if (std::abs(amount - m_amount) > m_range.step / 20)
            change(amount);
    });
}

QSize Slider::sizeHint() const
{
    return {150, kHeight};
}

QSize Slider::minimumSizeHint() const
{
    return {78, kHeight};
}

/// How much finer an easing slider is near 0.
constexpr double kEase = 2.5;

double Slider::toFraction(double amount) const
{
    if (m_range.logarithmic)
        return std::log(amount / m_range.least) / std::log(m_range.most / m_range.least);
    if (m_range.eases) {
        const double part =
            std::copysign(std::pow(std::abs(amount) / m_range.most, 1 / kEase), amount);
        return m_range.least < 0 ? (1 + part) / 2 : part;
    }
    return (amount - m_range.least) / (m_range.most - m_range.least);
}

double Slider::fromFraction(double fraction) const
{
    const double f = std::clamp(fraction, 0.0, 1.0);
    const double part = m_range.least < 0 ? 2 * f - 1 : f;
    const double amount =
        m_range.eases         ? std::copysign(std::pow(std::abs(part), kEase), part) * m_range.most
        : m_range.logarithmic ? m_range.least * std::pow(m_range.most / m_range.least, f)
                              : m_range.least + f * (m_range.most - m_range.least);
    const double grain = m_range.decimals > 0 ? m_range.step / 10 : m_range.step;
    return std::round(amount / grain) * grain;
}

QRectF Slider::track() const
{
    return {double(kHandle) + 1, height() - 9.0, width() - 2.0 * kHandle - 2, 3.0};
}

QString Slider::valueText() const
{
    return locale().toString(m_amount, 'f', m_range.decimals) + m_range.unit;
}

QRect Slider::valueRect() const
{
    const int w = fontMetrics().horizontalAdvance(valueText()) + 8;
    return {width() - w, 0, w, 20};
}

void Slider::setAmount(double amount)
{
    m_amount = std::clamp(amount, m_range.least, m_range.most);
    const QSignalBlocker blocker(this);
    setValue(int(std::lround(m_amount * 10 / m_range.step)));
    update();
}

void Slider::change(double amount)
{
    const double before = m_amount;
    setAmount(amount);
    if (m_amount != before)
        Q_EMIT amountChanged(m_amount);
}

void Slider::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Felt &f = felt();
    painter.setFont(font());
    painter.setPen(isEnabled() ? f.ink : f.line);
    const int valueWidth = valueRect().width();
    painter.drawText(
        QRect(1, 0, width() - valueWidth, 20), Qt::AlignVCenter | Qt::AlignLeft,
        painter.fontMetrics().elidedText(m_name, Qt::ElideRight, width() - valueWidth));
    painter.setPen(isEnabled() ? f.softInk : f.line);
    painter.drawText(valueRect().adjusted(0, 0, -1, 0), Qt::AlignVCenter | Qt::AlignRight,
                     valueText());

    const QRectF t = track();
    const double zero = m_range.least < 0 ? toFraction(0) : 0;
    const double at = toFraction(m_amount);
    painter.setPen(Qt::NoPen);
    painter.setBrush(f.line);
    painter.drawRoundedRect(t, 1.5, 1.5);
    if (m_range.showsHues) {
        for (int x = 0; x < t.width(); ++x)
            painter.fillRect(QRectF(t.left() + x, t.top() - 0.5, 1.5, t.height() + 1),
                             colourOfHue(360 * x / t.width()));
        painter.setBrush(Qt::NoBrush);
    } else {
        painter.setBrush(isEnabled() ? f.thread : f.line);
    }
    const double x0 = t.left() + t.width() * std::min(zero, at);
    const double x1 = t.left() + t.width() * std::max(zero, at);
    painter.drawRoundedRect(QRectF(x0, t.top(), x1 - x0, t.height()), 1.5, 1.5);
    painter.setBrush(isEnabled() ? f.ink : f.line);
    painter.setPen(QPen(f.felt, 1.5));
    painter.drawEllipse(QPointF(t.left() + t.width() * at, t.center().y()), kHandle + 0.5,
                        kHandle + 0.5);
    if (hasFocus())
        drawFocusStitch(painter, QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
}

void Slider::mousePressEvent(QMouseEvent *event)
{
    if (event->button() != Qt::LeftButton)
        return;
    if (valueRect().contains(event->pos())) {
        edit(QString::number(m_amount, 'f', m_range.decimals));
        return;
    }
    m_dragging = true;
    m_pressed = event->position();
    const QRectF t = track();
    if (!(event->modifiers() & Qt::ShiftModifier))
        change(fromFraction((event->position().x() - t.left()) / t.width()));
    m_dragFrom = toFraction(m_amount);
}

void Slider::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_dragging)
        return;
    const double fine = (event->modifiers() & Qt::ShiftModifier) ? 0.1 : 1.0;
    const double moved = (event->position().x() - m_pressed.x()) / track().width();
    change(fromFraction(m_dragFrom + moved * fine));
}

void Slider::mouseReleaseEvent(QMouseEvent *)
{
    if (m_dragging)
        Q_EMIT released();
    m_dragging = false;
}

void Slider::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (valueRect().contains(event->pos()))
        return;
    change(m_range.initial);
    Q_EMIT released();
}

void Slider::wheelEvent(QWheelEvent *event)
{
    if (!hasFocus()) {
        event->ignore(); // scrolling a column must not change what is under the pointer
        return;
    }
    const double steps = event->angleDelta().y() / 120.0;
    const double fine = (event->modifiers() & Qt::ShiftModifier) ? 0.1 : 1.0;
    change(m_range.logarithmic ? m_amount * std::pow(1.05, steps * fine)
                               : m_amount + steps * fine * m_range.step);
    event->accept();
}

void Slider::keyPressEvent(QKeyEvent *event)
{
    const double fine = (event->modifiers() & Qt::ShiftModifier) ? 0.1 : 1.0;
    const auto step = [&](double count) {
        change(m_range.logarithmic ? fromFraction(toFraction(m_amount) + 0.01 * count * fine)
                                   : m_amount + count * m_range.step * fine);
        Q_EMIT released();
    };
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Down:
        return step(-1);
    case Qt::Key_Right:
    case Qt::Key_Up:
        return step(1);
    case Qt::Key_PageDown:
        return step(-10);
    case Qt::Key_PageUp:
        return step(10);
    case Qt::Key_Home:
        change(m_range.least);
        return Q_EMIT released();
    case Qt::Key_End:
        change(m_range.most);
        return Q_EMIT released();
    default:
        break;
    }
    if (event->key() == Qt::Key_Return)
        return edit(QString::number(m_amount, 'f', m_range.decimals));
    event->ignore();
}

void Slider::edit(const QString &start)
{
    if (m_editor)
        return;
    m_editor = new QLineEdit(start, this);
    m_editor->setGeometry(width() - 64, 0, 64, 22);
    m_editor->setAlignment(Qt::AlignRight);
    m_editor->setAccessibleName(m_name);
    m_editor->selectAll();
    m_editor->show();
    m_editor->setFocus();
    connect(m_editor, &QLineEdit::editingFinished, this, [this] {
        if (!m_editor)
            return;
        bool ok = false;
        const double typed = locale().toDouble(m_editor->text(), &ok);
        m_editor->deleteLater();
        m_editor = nullptr;
        setFocus();
        if (ok) {
            change(typed);
            Q_EMIT released();
        }
    });
}

} // namespace buttonhole::app
