#include "ticket/ticket.h"

#include "commands/move_words.h"
#include "commands/number_words.h"
#include "commands/prepare_words.h"
#include "commands/sign_words.h"
#include "commands/step_words.h"
#include "style/theme.h"

#include <QCheckBox>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QLocale>
#include <QMenu>
#include <QPainter>
#include <QVBoxLayout>

namespace buttonhole::app
{

Ticket::Ticket(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_layout(new QVBoxLayout(this)),
      m_dropMark(new QWidget(this))
{
    m_dropMark->setAutoFillBackground(true);
    m_dropMark->setAttribute(Qt::WA_TransparentForMouseEvents);
    m_dropMark->hide();
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
    row->setSwatch(m_swatches.value(line.lineId));
    connect(row, &TicketRow::chosen, this, [this, line] { m_session.select(line); });
    connect(row, &TicketRow::switched, this, [this, line](bool on) { switchLine(line, on); });
    connect(row, &TicketRow::removeAsked, this, [this, line] { removeLine(line); });
    connect(row, &TicketRow::renameAsked, this, [this, line] {
        m_session.select(line);
        Q_EMIT renameAsked();
    });
    connect(row, &TicketRow::stepAsked, this, &Ticket::selectNext);
    connect(row, &TicketRow::menuAsked, this, &Ticket::menuAsked);
    connect(row, &TicketRow::dragged, this, [this, line](int y) { showDropAt(line, y); });
    connect(row, &TicketRow::dropped, this, [this, line](int y) { dropLine(line, y); });
    m_layout->addWidget(row);
    m_rows.append(row);
    row->show();
}

void Ticket::rebuild()
{
    int index = 0;
    const auto percent = [this](float share) {
        return locale().toString(int(share * 100 + 0.5F)) + QStringLiteral(" %");
    };
    if (m_session.hasPhoto()) {
        const Take &take = *m_session.take();
        const auto addLines = [&](const std::vector<AdjustmentLine> &lines) {
            for (const AdjustmentLine &line : lines)
                addRow({{TicketLine::Kind::Adjustment, line.id},
                        kindWord(line.adjustment->kind()),
                        {},
                        {},
                        line.on,
                        line.adjustment->isUnderstood()},
                       index++);
        };
        // What has no place on Prepare's own pages has a row.
        std::vector<AdjustmentLine> others = take.prepare;
        std::erase_if(
            others, [](const AdjustmentLine &line) { return isOnPages(line.adjustment->kind()); });
        const bool isPrepareOn =
            take.prepare.empty() || std::any_of(take.prepare.begin(), take.prepare.end(),
                                                [](const AdjustmentLine &line) { return line.on; });
        const auto addSteps = [&](const MaskedLine &line) {
            for (const Step &step : line.steps)
                addRow({{TicketLine::Kind::Step, line.id, step.id},
                        titleOf(step),
                        summaryOf(*step.shape),
                        signWords()[int(step.sign)].mark,
                        step.on,
                        step.shape->isUnderstood()},
                       index++);
        };
        addRow({{TicketLine::Kind::Prepare},
                tr("Prepare"),
                summaryOfPrepare(take, *m_session.levels()),
                {},
                isPrepareOn},
               index++);
        for (const Removal &removal : take.removals) {
            addRow({{TicketLine::Kind::Removal, removal.id},
                    QString::fromStdString(removal.name),
                    stateOf(removal),
                    {},
                    removal.on},
                   index++);
            addSteps(removal);
        }
        addLines(others);
        addRow({{TicketLine::Kind::Grey}, tr("Grey"), summaryOf(take.grey), {}, take.greyOn},
               index++);
        for (const Keep &keep : take.keeps) {
            addRow({{TicketLine::Kind::Keep, keep.id},
                    QString::fromStdString(keep.name),
                    keep.steps.empty() ? tr("empty") : percent(keep.strength),
                    {},
                    keep.on},
                   index++);
            addSteps(keep);
        }
        for (const LocalTone &tone : take.tones) {
            addRow({{TicketLine::Kind::Tone, tone.id},
                    QString::fromStdString(tone.name),
                    percent(tone.strength),
                    {},
                    tone.on},
                   index++);
            addSteps(tone);
        }
        addLines(take.finish);
    }
    while (m_rows.size() > index)
        m_rows.takeLast()->deleteLater();
    markSelected();
}

void Ticket::markSelected()
{
    const TicketLine before = std::exchange(m_selected, m_session.line());
    for (TicketRow *row : m_rows) {
        const bool isSelected = row->content().line == m_selected;
        row->setSelected(isSelected);
        if (isSelected && m_selected != before)
            Q_EMIT selectedRowChanged(row);
    }
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
        if (row->content().line.lineId == keepId)
            row->setSwatch(colour);
}

void Ticket::switchLine(const TicketLine &line, bool on)
{
    Take take = *m_session.take();
    if (!m_session.has(line)) // gone by undo, under the finger
        return;
    QString name = tr("Grey");
    switch (line.kind) {
    case TicketLine::Kind::Grey:
        take.greyOn = on;
        break;
    case TicketLine::Kind::Prepare:
        name = tr("Prepare");
        for (AdjustmentLine &each : take.prepare)
            each.on = on;
        for (Removal &each : take.removals)
            each.on = on;
        break;
    case TicketLine::Kind::Keep:
        name = QString::fromStdString(take.findKeep(line.lineId)->name);
        take = withKeep(std::move(take), line.lineId, [&](Keep &keep) { keep.on = on; });
        break;
    case TicketLine::Kind::Step:
        name = tr("Step");
        take =
            withStep(std::move(take), line.lineId, line.stepId, [&](Step &step) { step.on = on; });
        break;
    case TicketLine::Kind::Tone:
        name = QString::fromStdString(take.findTone(line.lineId)->name);
        take = withTone(std::move(take), line.lineId, [&](LocalTone &tone) { tone.on = on; });
        break;
    case TicketLine::Kind::Removal:
        name = QString::fromStdString(take.findRemoval(line.lineId)->name);
        take = withRemoval(std::move(take), line.lineId, [&](Removal &each) { each.on = on; });
        break;
    case TicketLine::Kind::Adjustment:
        name = kindWord(take.findLine(line.lineId)->adjustment->kind());
        take = withLine(std::move(take), line.lineId, [&](AdjustmentLine &each) { each.on = on; });
        break;
    }
    m_session.edit(on ? tr("%1 on").arg(name) : tr("%1 off").arg(name), std::move(take));
}

void Ticket::removeLine(const TicketLine &line)
{
    const Keep *keep = m_session.take()->findKeep(line.lineId);
    if (line.kind == TicketLine::Kind::Step)
        m_session.edit(ofStep(m_session, tr("Removal")),
                       withoutStep(*m_session.take(), line.lineId, line.stepId));
    else if (line.kind == TicketLine::Kind::Keep && keep)
        m_session.edit(tr("%1 deleted").arg(QString::fromStdString(keep->name)),
                       withoutKeep(*m_session.take(), line.lineId));
    else if (const LocalTone *tone = m_session.take()->findTone(line.lineId))
        m_session.edit(tr("%1 deleted").arg(QString::fromStdString(tone->name)),
                       withoutTone(*m_session.take(), line.lineId));
    else if (const Removal *removal = m_session.take()->findRemoval(line.lineId))
        m_session.edit(tr("%1 deleted").arg(QString::fromStdString(removal->name)),
                       withoutRemoval(*m_session.take(), line.lineId));
    else if (const AdjustmentLine *each = m_session.take()->findLine(line.lineId))
        m_session.edit(tr("%1 deleted").arg(kindWord(each->adjustment->kind())),
                       withoutLine(*m_session.take(), line.lineId));
}

void Ticket::clearKeep()
{
    const MaskedLine *masked = m_session.masked();
    if (!masked || (masked->steps.empty() && !masked->invert))
        return;
    const TicketLine line = m_session.lineOf(*masked);
    m_session.edit(tr("%1 cleared").arg(QString::fromStdString(masked->name)),
                   withoutSteps(*m_session.take(), masked->id));
    m_session.select(line);
}

void Ticket::duplicateLine()
{
    const TicketLine line = m_session.line();
    uint64_t id = 0;
    if (line.kind == TicketLine::Kind::Keep) {
        m_session.edit(ofMask(m_session, tr("Copy")),
                       withCopyOfKeep(*m_session.take(), line.lineId, &id));
        m_session.select({TicketLine::Kind::Keep, id});
    } else if (line.kind == TicketLine::Kind::Tone) {
        m_session.edit(ofMask(m_session, tr("Copy")),
                       withCopyOfTone(*m_session.take(), line.lineId, &id));
        m_session.select({TicketLine::Kind::Tone, id});
    } else if (line.kind == TicketLine::Kind::Step) {
        m_session.edit(
            ofStep(m_session, tr("Copy")),
            withCopyOfStep(*m_session.take(), line.lineId, line.stepId, line.lineId, &id));
        m_session.select({TicketLine::Kind::Step, line.lineId, id});
    }
}

void Ticket::askWhereToCopy()
{
    const TicketLine line = m_session.line();
    if (line.kind != TicketLine::Kind::Step)
        return;
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("copyStep"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto offer = [&](const QString &name, uint64_t to) {
        menu->addAction(name, this, [this, line, to] {
            Take take = *m_session.take();
            uint64_t keep = to;
            uint64_t id = 0;
            if (keep == 0)
                take = withNewKeep(std::move(take), {}, &keep);
            take = withCopyOfStep(std::move(take), line.lineId, line.stepId, keep, &id);
            m_session.edit(ofStep(m_session, tr("Copy")), std::move(take));
            m_session.select({TicketLine::Kind::Step, keep, id});
        });
    };
    const auto offerAll = [&](const auto &lines) {
        for (const MaskedLine &each : lines)
            if (each.id != line.lineId)
                offer(QString::fromStdString(each.name), each.id);
    };
    offerAll(m_session.take()->keeps);
    offerAll(m_session.take()->tones);
    offerAll(m_session.take()->removals);
    offer(tr("A new keep"), 0);
    for (TicketRow *row : m_rows)
        if (row->content().line == line)
            menu->popup(row->mapToGlobal(QPoint(row->width() / 2, row->height())));
}

void Ticket::moveStep(const TicketLine &line, uint64_t toKeep, int index)
{
    m_session.edit(ofStep(m_session, tr("Place")),
                   withStepAt(*m_session.take(), line.lineId, line.stepId, toKeep, index));
    m_session.select({TicketLine::Kind::Step, toKeep, line.stepId});
}

void Ticket::moveBlock(const TicketLine &line, int index)
{
    const auto at = line.kind == TicketLine::Kind::Keep ? withKeepAt : withToneAt;
    m_session.edit(ofMask(m_session, tr("Place")), at(*m_session.take(), line.lineId, index));
}

void Ticket::moveLine(int delta)
{
    const TicketLine line = m_session.line();
    const auto &keeps = m_session.take()->keeps;
    const auto at = std::find_if(keeps.begin(), keeps.end(),
                                 [&](const Keep &k) { return k.id == line.lineId; });
    const bool isKeeps = at != keeps.end();
    const int beside = int(at - keeps.begin()) + delta;
    const bool hasBeside = isKeeps && beside >= 0 && beside < int(keeps.size());
    if (line.kind == TicketLine::Kind::Keep && hasBeside)
        moveBlock(line, beside);
    const auto &tones = m_session.take()->tones;
    const auto tone = std::find_if(tones.begin(), tones.end(),
                                   [&](const LocalTone &t) { return t.id == line.lineId; });
    const int next = int(tone - tones.begin()) + delta;
    if (line.kind == TicketLine::Kind::Tone && next >= 0 && next < int(tones.size()))
        moveBlock(line, next);
    const MaskedLine *masked = m_session.masked();
    if (line.kind != TicketLine::Kind::Step || !masked)
        return;
    const auto &steps = masked->steps;
    const auto step = std::find_if(steps.begin(), steps.end(),
                                   [&](const Step &s) { return s.id == line.stepId; });
    const int index = int(step - steps.begin()) + delta;
    if (index >= 0 && index < int(steps.size()))
        moveStep(line, line.lineId, index);
    else if (hasBeside)
        moveStep(line, keeps[size_t(beside)].id,
                 delta > 0 ? 0 : int(keeps[size_t(beside)].steps.size()));
}

/// Where a dragged row would go: above the row whose upper half the pointer is in.
Ticket::Drop Ticket::dropAt(const TicketLine &line, int y) const
{
    return line.kind == TicketLine::Kind::Step ? stepDropAt(line, y) : blockDropAt(line, y);
}

Ticket::Drop Ticket::stepDropAt(const TicketLine &line, int y) const
{
    Drop drop;
    for (drop.row = 0; drop.row < m_rows.size(); ++drop.row) {
        const TicketLine &at = m_rows[drop.row]->content().line;
        if (y <= m_rows[drop.row]->geometry().center().y() && drop.lineId != 0)
            break;
        if (at.hasSteps()) {
            drop.lineId = at.lineId;
            drop.index = 0;
        } else if (at.kind == TicketLine::Kind::Step) {
            drop.index += at == line ? 0 : 1; // the dragged line itself does not count
        }
    }
    return drop;
}

/// A keep stays among the keeps, a tone among the tones.
Ticket::Drop Ticket::blockDropAt(const TicketLine &line, int y) const
{
    Drop drop;
    bool isInside = false;
    for (drop.row = 0; drop.row < m_rows.size(); ++drop.row) {
        const TicketLine &at = m_rows[drop.row]->content().line;
        const bool isOfKind = at.kind == line.kind;
        const bool isPast = isInside && !isOfKind && at.kind != TicketLine::Kind::Step;
        if (isPast || (isOfKind && y <= m_rows[drop.row]->geometry().center().y()))
            break;
        isInside = isInside || isOfKind;
        drop.index += isOfKind && at.lineId != line.lineId ? 1 : 0;
    }
    return drop;
}

void Ticket::showDropAt(const TicketLine &line, int y)
{
    const Drop drop = dropAt(line, y);
    const int top =
        drop.row < m_rows.size() ? m_rows[drop.row]->y() : m_rows.back()->geometry().bottom() + 1;
    QPalette colours = palette();
    colours.setColor(QPalette::Window, felt().thread);
    m_dropMark->setPalette(colours);
    m_dropMark->setGeometry(10, std::max(0, top - 1), width() - 20, 2);
    m_dropMark->raise();
    m_dropMark->show();
}

void Ticket::dropLine(const TicketLine &line, int y)
{
    m_dropMark->hide();
    const Drop drop = dropAt(line, y);
    if (line.kind == TicketLine::Kind::Step)
        moveStep(line, drop.lineId, drop.index);
    else
        moveBlock(line, drop.index);
}

} // namespace buttonhole::app
