// One row of the ticket; the rest is in ticket.cpp.
#include "style/theme.h"
#include "ticket/ticket.h"

#include <QCheckBox>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QPainter>

namespace buttonhole::app
{

namespace
{

constexpr int kRowHeight = 28;
constexpr int kStepIndent = 22;

} // namespace

TicketRow::TicketRow(const Content &content, QWidget *parent)
    : QFrame(parent), m_content(content), m_switch(new QCheckBox(this))
{
    setFixedHeight(kRowHeight);
    setFocusPolicy(Qt::StrongFocus);
    m_switch->setFocusPolicy(Qt::TabFocus);
    m_switch->move(content.line.kind == TicketLine::Kind::Step ? 10 + kStepIndent : 10, 5);
    m_switch->resize(20, 18);
    connect(m_switch, &QCheckBox::clicked, this, &TicketRow::switched);
    setContent(content);
}

void TicketRow::setContent(const Content &content)
{
    m_content = content;
    m_switch->setChecked(content.on);
    m_switch->setAccessibleName(tr("%1 on or off").arg(content.name));
    m_switch->setToolTip(tr("Switch this line on or off"));
    setAccessibleName(content.name + QStringLiteral(", ") + content.info);
    update();
}

void TicketRow::setSelected(bool selected)
{
    m_selected = selected;
    update();
}

void TicketRow::setSwatch(const QColor &colour)
{
    m_swatch = colour;
    update();
}

int TicketRow::textLeft() const
{
    return m_switch->x() + (m_content.line.kind == TicketLine::Kind::Keep ? 56 : 23);
}

void TicketRow::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Felt &f = felt();
    if (m_selected) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(f.card);
        painter.drawRoundedRect(rect(), 6, 6);
        painter.setBrush(f.thread);
        painter.drawRoundedRect(QRectF(0, 5, 3, height() - 10), 1.5, 1.5);
    }
    int left = textLeft();
    if (m_content.line.kind == TicketLine::Kind::Keep) {
        painter.setPen(QPen(f.line, 1.2));
        painter.setBrush(m_swatch.isValid() ? m_swatch : QColor(0x8A, 0x8A, 0x8A));
        painter.drawRoundedRect(QRectF(m_switch->x() + 23, 6, 26, 16), 7, 7);
    }
    if (!m_content.sign.isEmpty()) {
        painter.setPen(f.ink);
        painter.setFont(bodyFont());
        painter.drawText(QRect(left, 0, 14, height()), Qt::AlignVCenter, m_content.sign);
        left += 15;
    }
    painter.setFont(smallFont());
    const int infoWidth = painter.fontMetrics().horizontalAdvance(m_content.info) + 8;
    painter.setPen(f.softInk);
    painter.drawText(rect().adjusted(0, 0, -8, 0), Qt::AlignVCenter | Qt::AlignRight,
                     m_content.info);
    QFont name = bodyFont();
    if (m_content.line.kind != TicketLine::Kind::Step)
        name.setWeight(QFont::DemiBold);
    painter.setFont(name);
    painter.setPen(m_content.on && m_content.isUnderstood ? f.ink : f.softInk);
    const int space = width() - left - infoWidth - 8;
    painter.drawText(QRect(left, 0, space, height()), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(m_content.name, Qt::ElideRight, space));
    if (hasFocus())
        drawFocusStitch(painter, QRectF(rect()).adjusted(1, 1, -1, -1));
}

void TicketRow::contextMenuEvent(QContextMenuEvent *event)
{
    Q_EMIT chosen();
    Q_EMIT menuAsked(event->globalPos());
}

void TicketRow::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    m_pressedAt = int(event->position().y());
    m_isDragged = false;
    Q_EMIT chosen();
}

void TicketRow::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_content.line.isMovable() || !(event->buttons() & Qt::LeftButton))
        return;
    const int at = int(event->position().y());
    m_isDragged = m_isDragged || std::abs(at - m_pressedAt) > kRowHeight / 3;
    if (m_isDragged)
        Q_EMIT dragged(y() + at);
}

void TicketRow::mouseReleaseEvent(QMouseEvent *event)
{
    if (m_isDragged)
        Q_EMIT dropped(y() + int(event->position().y()));
    m_isDragged = false;
}

void TicketRow::mouseDoubleClickEvent(QMouseEvent *)
{
    if (m_content.line.hasSteps())
        Q_EMIT renameAsked();
}

void TicketRow::focusInEvent(QFocusEvent *event)
{
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason)
        Q_EMIT chosen();
    QFrame::focusInEvent(event);
}

void TicketRow::keyPressEvent(QKeyEvent *event)
{
    switch (event->key()) {
    case Qt::Key_Up:
        return Q_EMIT stepAsked(-1);
    case Qt::Key_Down:
        return Q_EMIT stepAsked(1);
    case Qt::Key_Delete:
        return Q_EMIT removeAsked();
    case Qt::Key_F2:
        return Q_EMIT renameAsked();
    case Qt::Key_Return:
        return Q_EMIT switched(!m_content.on);
    default:
        event->ignore();
    }
}

} // namespace buttonhole::app
