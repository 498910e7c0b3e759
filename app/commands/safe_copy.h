#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"

#include <QDateTime>
#include <QFileInfo>
#include <QLockFile>
#include <QTimer>

#include <functional>
#include <vector>

namespace buttonhole::app
{

/// Work of a window that did not close as it should.
struct LeftWork {
    QString copy; ///< a .buttonhole file
    QString photo;
    QString savedAs;      ///< where its user saved it last; empty: nowhere yet
    FileStamp savedStamp; ///< of that file, as the window knew it
    QDateTime when;

    QString name() const { return QFileInfo(savedAs.isEmpty() ? photo : savedAs).fileName(); }
};

/// Keeps a copy of unsaved work on the disk while it goes on, so that a crash or a power cut takes
/// no more than its last moments. The copy goes when the work is saved or thrown away.
class SafeCopy : public QObject
{
    Q_OBJECT
public:
    static constexpr int kDelayMs = 15000; ///< from a change to the copy that has it

    /// @param folder for copies of all windows; made when it is needed
    /// @param window gives the window's own state (Container::windowJson)
    SafeCopy(Session &session, Jobs &jobs, const QString &folder,
             std::function<std::string()> window);

    void setDelay(int ms) { m_timer.setInterval(ms); }

    /// Looks in the background for the copies that no window works on, newest first, and takes
    /// them. @param then is called in any case; then adopt(), throwAway() or leave() them
    void lookForLeft(std::function<void(const QList<LeftWork> &)> then);
    /// It has been opened here and goes on as this window's own copy; others wait.
    void adopt(const QString &copy);
    void throwAway(const QString &copy);
    void leave() { m_left.clear(); } ///< for another time
    /// At once, on this thread: the session ends. The copy is for the next window to offer.
    void copyForGood();

Q_SIGNALS:
    void failed(const buttonhole::Error &error); ///< once, until a copy succeeds again
    void copied();

private:
    struct Copy;
    struct Left;
    void check();
    bool makeOwn();
    Session::Snapshot snapshot() const;
    void copyNow();
    void finish(const std::shared_ptr<Copy> &copy, Result<Session::Snapshot> written);

    Session &m_session;
    Jobs &m_jobs;
    QString m_folder;
    std::function<std::string()> m_window;
    QTimer m_timer;
    std::shared_ptr<Copy> m_own;
    std::vector<std::shared_ptr<Copy>> m_left;
    SavedMasks m_masks;    ///< of the own copy
    uint64_t m_copied = 0; ///< state that it has
    bool m_running = false;
    bool m_hasFailed = false;
};

} // namespace buttonhole::app
