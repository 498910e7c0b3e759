#pragma once

#include "document/container.h"
#include "document/history.h"
#include "io/photo_levels.h"

#include <QObject>
#include <QString>

namespace buttonhole::app
{

/// One line of the ticket.
struct TicketLine {
    /// In files by number: new ones go to the end.
    enum class Kind { Grey, Keep, Step, Tone, Adjustment, Prepare, Removal } kind = Kind::Keep;
    uint64_t lineId = 0; ///< of the keep, local tone, removal, or line of prepare or finish
    uint64_t stepId = 0;
    /// No keep's, and always there.
    bool isOfAll() const { return kind == Kind::Grey || kind == Kind::Prepare; }
    bool hasSteps() const
    {
        return kind == Kind::Keep || kind == Kind::Tone || kind == Kind::Removal;
    }
    bool isMovable() const
    {
        return kind == Kind::Keep || kind == Kind::Tone || kind == Kind::Step;
    }
    friend bool operator==(const TicketLine &, const TicketLine &) = default;
};

/// What became different.
struct SeenChange {
    Rect dirty; ///< photo px; empty: all of it
    TakeChange parts = TakeChange::all();
};

/// The open photo and the work on it: what every part of the window looks at and changes. Lives on
/// the UI thread; snapshots of takes and photos go to jobs.
class Session : public QObject
{
    Q_OBJECT
public:
    explicit Session(QObject *parent = nullptr);

    bool hasPhoto() const { return m_levels != nullptr; }
    const std::shared_ptr<const PhotoLevels> &levels() const { return m_levels; }
    /// Photo space and picture space of the take shown.
    PictureMap picture() const;
    double tintHueDeg() const { return m_tintHueDeg; }
    /// A photo freshly opened, or the work of a .buttonhole file with its photo.
    /// @param lock of the container; null where another window has it
    void open(std::shared_ptr<const PhotoLevels> levels, double tintHueDeg,
              std::optional<Container> container, const QString &containerPath,
              std::shared_ptr<const WorkLock> lock = nullptr);

    /// What is shown: while a stroke is being painted, the take with that stroke.
    const std::shared_ptr<const Take> &take() const { return m_shown; }
    const Work &work() const { return m_history.present(); }
    const History &history() const { return m_history; }

    // Changing. `dirty` is what may look different, photo px; empty means all of it.
    void edit(const QString &text, Take take, const QString &mergeKey = {}, Rect dirty = {});
    /// The same of all takes, or of which one is worked on.
    void editWork(const QString &text, Work work, const QString &mergeKey = {});
    /// Memory for undo, and the folder for what is more.
    void setUndoBudget(size_t bytes, const QString &folder);
    void endMerge() { m_history.seal(); }
    void showLive(Take take, const Rect &dirty);
    /// The live take becomes a history entry.
    void commitLive(const QString &text);
    /// Back to the last entry; `dirty` is what the unfinished move touched.
    void dropLive(const Rect &dirty);
    void undo();
    void redo();
    void jumpTo(int index);

    const TicketLine &line() const { return m_line; }
    bool has(const TicketLine &line) const; ///< the take shown has it
    void select(const TicketLine &line);
    /// Whose mask painting shapes: the selected line's, or the last keep's.
    const MaskedLine *masked() const;
    /// The line of a keep, local tone or removal.
    TicketLine lineOf(const MaskedLine &masked) const;
    const Keep *keep() const; ///< masked(), where that is a keep
    const Step *step() const;
    const LocalTone *tone() const;            ///< where its line, or a step of it, is selected
    const Removal *removal() const;           ///< the same
    const AdjustmentLine *adjustment() const; ///< where its line is selected
    /// The selected step, or that mask, covers everything but what it did.
    void invertLine();

    // Files.
    const QString &containerPath() const { return m_containerPath; }
    /// Of that file, as this window read or wrote it.
    const FileStamp &savedStamp() const { return m_container.ownStamp; }
    QString photoPath() const;
    QString title() const; ///< file name and take
    bool isUnsaved() const { return hasPhoto() && !m_history.isSaved(); }
    /// What says that this window works on the file; null: none is open, or another has it.
    const std::shared_ptr<const WorkLock> &lock() const { return m_lock; }
    bool packsPhoto() const { return m_packsPhoto; }
    void setPacksPhoto(bool packs);
    /// No file holds the work, though nothing was changed here.
    void markUnsaved();
    /// All that a save job needs; the preview is the job's to make.
    struct Snapshot {
        Container container;
        uint64_t documentId = 0;
        uint64_t stateId = 0;
    };
    Snapshot snapshotForSaving() const;
    /// A save of `snapshot` to `path` has succeeded. By now the work may have gone on, or another
    /// photo may be open.
    void noteSaved(const QString &path, const Snapshot &snapshot);
    const std::string &windowJson() const { return m_container.windowJson; }
    void setWindowJson(std::string json) { m_container.windowJson = std::move(json); }

Q_SIGNALS:
    void photoChanged();
    void takeChanged(const buttonhole::app::SeenChange &what);
    void historyChanged();
    void lineChanged();
    void fileChanged(); ///< name or unsaved state

private:
    void showTake(std::shared_ptr<const Take> take, const Rect &dirty);
    void present(const Rect &dirty);
    void mendLine();

    std::shared_ptr<const PhotoLevels> m_levels;
    double m_tintHueDeg = 0;
    History m_history;
    std::shared_ptr<const Take> m_shown;
    SeenChange m_change;   ///< the last
    Container m_container; ///< photo reference, extras; its work is not used
    QString m_containerPath;
    std::shared_ptr<const WorkLock> m_lock;
    size_t m_undoBytes = size_t(256) << 20;
    QString m_undoFolder;
    uint64_t m_documentId = 0; ///< counts what was opened
    bool m_packsPhoto = false;
    TicketLine m_line;
};

} // namespace buttonhole::app
