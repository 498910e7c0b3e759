#include "commands/session.h"

#include <QFileInfo>

namespace buttonhole::app
{

Session::Session(QObject *parent) : QObject(parent)
{
    m_shown = m_history.present().takes.front();
}

PictureMap Session::picture() const
{
    const Photo &photo = m_levels->photo();
    return pictureOf(*m_shown, photo.width, photo.height);
}

void Session::open(std::shared_ptr<const PhotoLevels> levels, double tintHueDeg,
                   std::optional<Container> container, const QString &containerPath,
                   std::shared_ptr<const WorkLock> lock)
{
    ++m_documentId;
    m_levels = std::move(levels);
    m_tintHueDeg = tintHueDeg;
    m_container = {};
    const Photo &photo = m_levels->photo();
    if (container) {
        m_history =
            History(withHeadroom(container->work, photo.headroomEv - container->photo.headroomEv));
        m_container = std::move(*container);
        m_container.photo.headroomEv = photo.headroomEv;
    } else {
        m_history = History(makeWork(photo));
    }
    if (m_container.photo.sha256.empty()) // a photo of its own, or a file that did not know it
        m_container.photo = referenceTo(m_levels->photo());
    m_history.setBudget(m_undoBytes, m_undoFolder.toStdString());
    m_containerPath = containerPath;
    m_lock = std::move(lock);
    m_packsPhoto = m_container.photo.packed;
    m_shown = m_history.present().takes[m_history.present().current];
    m_line = {};
    mendLine();
    Q_EMIT photoChanged();
    Q_EMIT takeChanged({});
    Q_EMIT historyChanged();
    Q_EMIT lineChanged();
    Q_EMIT fileChanged();
}

void Session::setUndoBudget(size_t bytes, const QString &folder)
{
    m_undoBytes = bytes;
    m_undoFolder = folder;
    m_history.setBudget(bytes, folder.toStdString());
}

void Session::showTake(std::shared_ptr<const Take> take, const Rect &dirty)
{
    const auto before = std::exchange(m_shown, std::move(take));
    m_change = {dirty, changeBetween(*before, *m_shown)};
}

void Session::present(const Rect &dirty)
{
    showTake(m_history.present().takes[m_history.present().current], dirty);
    const TicketLine before = m_line;
    mendLine();
    Q_EMIT takeChanged(m_change);
    Q_EMIT historyChanged();
    if (!(m_line == before))
        Q_EMIT lineChanged();
    Q_EMIT fileChanged();
}

void Session::edit(const QString &text, Take take, const QString &mergeKey, Rect dirty)
{
    m_history.push(text.toStdString(), work().with(std::move(take)), mergeKey.toStdString());
    present(dirty);
}

void Session::editWork(const QString &text, Work work, const QString &mergeKey)
{
    m_history.push(text.toStdString(), std::move(work), mergeKey.toStdString());
    present({});
}

void Session::showLive(Take take, const Rect &dirty)
{
    showTake(std::make_shared<const Take>(std::move(take)), dirty);
    Q_EMIT takeChanged(m_change);
}

void Session::commitLive(const QString &text)
{
    Work next = work();
    next.takes[next.current] = m_shown;
    m_history.push(text.toStdString(), std::move(next));
    mendLine();
    Q_EMIT historyChanged();
    Q_EMIT fileChanged();
}

void Session::dropLive(const Rect &dirty)
{
    present(dirty);
}

void Session::undo()
{
    m_history.undo();
    present({});
}

void Session::redo()
{
    m_history.redo();
    present({});
}

void Session::jumpTo(int index)
{
    m_history.jumpTo(size_t(std::max(0, index)));
    present({});
}

void Session::select(const TicketLine &line)
{
    m_line = line; // choosing a line again counts: it brings its tool back
    mendLine();
    Q_EMIT lineChanged();
}

void Session::invertLine()
{
    const MaskedLine *ofLine = masked();
    if (!ofLine)
        return;
    const Step *ofStep = step();
    const bool isInverted = ofStep ? ofStep->invert : ofLine->invert;
    edit(isInverted ? tr("Just this") : tr("Everything but this"),
         ofStep
             ? withStep(*take(), ofLine->id, ofStep->id, [&](Step &s) { s.invert = !isInverted; })
             : withMasked(*take(), ofLine->id, [&](MaskedLine &m) { m.invert = !isInverted; }));
}

bool Session::has(const TicketLine &line) const
{
    const MaskedLine *masked = m_shown->findMasked(line.lineId);
    switch (line.kind) {
    case TicketLine::Kind::Grey:
    case TicketLine::Kind::Prepare:
        return true;
    case TicketLine::Kind::Keep:
        return m_shown->findKeep(line.lineId) != nullptr;
    case TicketLine::Kind::Step:
        return masked && masked->findStep(line.stepId);
    case TicketLine::Kind::Tone:
        return m_shown->findTone(line.lineId) != nullptr;
    case TicketLine::Kind::Removal:
        return m_shown->findRemoval(line.lineId) != nullptr;
    case TicketLine::Kind::Adjustment:
        break;
    }
    return m_shown->findLine(line.lineId) != nullptr;
}

void Session::mendLine()
{
    if (m_line.isOfAll())
        m_line.lineId = 0;
    if (has(m_line))
        return;
    if (const MaskedLine *found = m_shown->findMasked(m_line.lineId))
        m_line = lineOf(*found); // its step is gone
    else
        m_line = m_shown->keeps.empty() ? TicketLine{TicketLine::Kind::Grey}
                                        : lineOf(m_shown->keeps.back());
}

const MaskedLine *Session::masked() const
{
    if (const MaskedLine *found = m_shown->findMasked(m_line.lineId))
        return found;
    return m_shown->keeps.empty() ? nullptr : &m_shown->keeps.back();
}

TicketLine Session::lineOf(const MaskedLine &masked) const
{
    const auto kind = m_shown->findKeep(masked.id)   ? TicketLine::Kind::Keep
                      : m_shown->findTone(masked.id) ? TicketLine::Kind::Tone
                                                     : TicketLine::Kind::Removal;
    return {kind, masked.id};
}

const Keep *Session::keep() const
{
    const MaskedLine *found = masked();
    return found ? m_shown->findKeep(found->id) : nullptr;
}

const Step *Session::step() const
{
    const MaskedLine *found = m_line.kind == TicketLine::Kind::Step ? masked() : nullptr;
    return found ? found->findStep(m_line.stepId) : nullptr;
}

const LocalTone *Session::tone() const
{
    return m_shown->findTone(m_line.lineId);
}

const Removal *Session::removal() const
{
    return m_shown->findRemoval(m_line.lineId);
}

const AdjustmentLine *Session::adjustment() const
{
    return m_line.kind == TicketLine::Kind::Adjustment ? m_shown->findLine(m_line.lineId) : nullptr;
}

QString Session::photoPath() const
{
    return m_levels ? QString::fromStdString(m_levels->photo().path) : QString();
}

QString Session::title() const
{
    if (!m_levels)
        return {};
    const QString file = m_containerPath.isEmpty() ? photoPath() : m_containerPath;
    return QFileInfo(file).fileName() + QStringLiteral("  ·  ") +
           QString::fromStdString(m_shown->name);
}

void Session::setPacksPhoto(bool packs)
{
    if (m_packsPhoto == packs)
        return;
    m_packsPhoto = packs;
    markUnsaved();
}

void Session::markUnsaved()
{
    m_history.markUnsaved();
    Q_EMIT fileChanged();
}

Session::Snapshot Session::snapshotForSaving() const
{
    Snapshot out{m_container, m_documentId, m_history.stateId()};
    out.container.work = m_history.present();
    return out;
}

void Session::noteSaved(const QString &path, const Snapshot &snapshot)
{
    if (snapshot.documentId != m_documentId)
        return;
    m_containerPath = path;
    if (!m_lock || !m_lock->isOf(path.toStdString()))
        m_lock = WorkLock::take(path.toStdString());
    m_container.photo = snapshot.container.photo;
    if (m_container.photo.packed && isUnpacked(m_container.photo, photoPath().toStdString()))
        m_packsPhoto = true; // whatever was asked for: there is no other
    m_container.savedMasks = snapshot.container.savedMasks;
    m_container.ownPath = snapshot.container.ownPath;
    m_container.ownStamp = snapshot.container.ownStamp;
    m_history.markSaved(snapshot.stateId);
    Q_EMIT fileChanged();
}

} // namespace buttonhole::app
