#include "ticket/ticket.h"

#include "window/theme.h"

#include <QCheckBox>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

constexpr int kRowHeight = 28;
constexpr int kStepIndent = 22;

QString signText(Sign sign)
{
    switch (sign) {
    case Sign::Subtract:
        return QStringLiteral("−");
    case Sign::OnlyInside:
        return QStringLiteral("∩");
    case Sign::Add:
        break;
    }
    return QStringLiteral("+");
}

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

void TicketRow::mousePressEvent(QMouseEvent *)
{
    setFocus(Qt::MouseFocusReason);
    Q_EMIT chosen();
}

void TicketRow::mouseDoubleClickEvent(QMouseEvent *)
{
    if (m_content.line.kind == TicketLine::Kind::Keep)
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

Ticket::Ticket(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_layout(new QVBoxLayout(this))
{
    m_layout->setContentsMargins(8, 2, 8, 2);
    m_layout->setSpacing(0);
    setAccessibleName(tr("Ticket"));
    connect(&m_session, &Session::historyChanged, this, &Ticket::rebuild);
    connect(&m_session, &Session::lineChanged, this, &Ticket::markSelected);
}

void Ticket::addRow(const TicketRow::Content &content, int index)
{
    if (index < m_rows.size() && m_rows[index]->content().line == content.line) {
        if (!(m_rows[index]->content() == content))
            m_rows[index]->setContent(content);
        return;
    }
    while (m_rows.size() > index)
        m_rows.takeLast()->deleteLater();
    auto *row = new TicketRow(content, this);
    const TicketLine line = content.line;
    row->setSwatch(m_swatches.value(line.keepId));
    connect(row, &TicketRow::chosen, this, [this, line] { m_session.select(line); });
    connect(row, &TicketRow::switched, this, [this, line](bool on) { switchLine(line, on); });
    connect(row, &TicketRow::removeAsked, this, [this, line] { removeLine(line); });
    connect(row, &TicketRow::renameAsked, this, [this, line] {
        m_session.select(line);
        Q_EMIT renameAsked();
    });
    connect(row, &TicketRow::stepAsked, this, &Ticket::selectNext);
    m_layout->addWidget(row);
    m_rows.append(row);
    row->show();
}

void Ticket::rebuild()
{
    int index = 0;
    if (m_session.hasPhoto()) {
        const Take &take = *m_session.take();
        addRow({{TicketLine::Kind::Grey},
                tr("Grey"),
                QString::fromStdString(summaryOf(take.grey)),
                {},
                take.greyOn},
               index++);
        for (const Keep &keep : take.keeps) {
            const QString strength =
                locale().toString(int(keep.strength * 100 + 0.5F)) + QStringLiteral(" %");
            addRow({{TicketLine::Kind::Keep, keep.id},
                    QString::fromStdString(keep.name),
                    keep.steps.empty() ? tr("empty") : strength,
                    {},
                    keep.on},
                   index++);
            for (const Step &step : keep.steps)
                addRow({{TicketLine::Kind::Step, keep.id, step.id},
                        QString::fromStdString(step.shape->title()),
                        QString::fromStdString(step.shape->summary()),
                        signText(step.sign),
                        step.on,
                        step.shape->isUnderstood()},
                       index++);
        }
    }
    while (m_rows.size() > index)
        m_rows.takeLast()->deleteLater();
    markSelected();
}

void Ticket::markSelected()
{
    const TicketLine &selected = m_session.line();
    for (TicketRow *row : m_rows)
        row->setSelected(row->content().line == selected);
}

void Ticket::selectNext(int delta)
{
    for (int i = 0; i < m_rows.size(); ++i) {
        if (!(m_rows[i]->content().line == m_session.line()))
            continue;
        const int next = std::clamp<int>(i + delta, 0, int(m_rows.size()) - 1);
        const bool movesFocus = m_rows[i]->hasFocus();
        m_session.select(m_rows[next]->content().line);
        if (movesFocus)
            m_rows[next]->setFocus(Qt::OtherFocusReason);
        return;
    }
}

void Ticket::setSwatch(uint64_t keepId, const QColor &colour)
{
    m_swatches[keepId] = colour;
    for (TicketRow *row : m_rows)
        if (row->content().line.keepId == keepId)
            row->setSwatch(colour);
}

void Ticket::switchLine(const TicketLine &line, bool on)
{
    Take take = *m_session.take();
    QString name = tr("Grey");
    switch (line.kind) {
    case TicketLine::Kind::Grey:
        take.greyOn = on;
        break;
    case TicketLine::Kind::Keep:
        name = QString::fromStdString(take.findKeep(line.keepId)->name);
        take = withKeep(std::move(take), line.keepId, [&](Keep &keep) { keep.on = on; });
        break;
    case TicketLine::Kind::Step:
        name = tr("Step");
        take =
            withStep(std::move(take), line.keepId, line.stepId, [&](Step &step) { step.on = on; });
        break;
    }
    m_session.edit(on ? tr("%1 on").arg(name) : tr("%1 off").arg(name), std::move(take));
}

void Ticket::removeLine(const TicketLine &line)
{
    if (line.kind == TicketLine::Kind::Step)
        m_session.edit(tr("Step removed"),
                       withoutStep(*m_session.take(), line.keepId, line.stepId));
}

} // namespace buttonhole::app
