#include "commands/safe_copy.h"

#include <QDir>
#include <QUuid>

#include <nlohmann/json.hpp>

namespace buttonhole::app
{

/// A copy's file and the lock that says that a window works on it. Both go with the last that holds
/// this, which may be the job that is writing it.
struct SafeCopy::Copy {
    explicit Copy(const QString &path) : file(path), lock(path + QStringLiteral(".lock"))
    {
        lock.setStaleLockTime(0); // only a process that is gone leaves one behind
        isLocked = lock.tryLock(0);
    }
    ~Copy()
    {
        if (isLocked && !stays)
            QFile::remove(file);
    }
    const QString file;
    QLockFile lock;
    bool isLocked = false;
    bool stays = false; ///< it is not this window's to remove
};

struct SafeCopy::Left {
    std::vector<std::shared_ptr<Copy>> copies;
    QList<LeftWork> works;
};

namespace
{

constexpr const char *kSavedAs = "savedAs";
constexpr const char *kPhoto = "photo";
constexpr const char *kStamp = "savedStamp"; ///< [bytes, changedNs, node]

/// The window's state, with what a copy must know besides.
std::string windowJsonOf(const std::string &window, const Session &session)
{
    nlohmann::json out = nlohmann::json::parse(window, nullptr, false);
    if (!out.is_object())
        out = nlohmann::json::object();
    out[kSavedAs] = session.containerPath().toStdString();
    out[kPhoto] = session.photoPath().toStdString();
    const FileStamp stamp = session.savedStamp();
    out[kStamp] = {stamp.bytes, stamp.changedNs, stamp.node};
    return out.dump();
}

/// Null where it cannot be read: then it stays where it is.
std::optional<LeftWork> readLeft(const QFileInfo &file, const Run &run)
{
    const auto container = loadContainer(file.filePath().toStdString(), run);
    if (!container)
        return std::nullopt;
    const auto window = nlohmann::json::parse(container->windowJson, nullptr, false);
    const auto text = [&](const char *key) {
        const bool has = window.is_object() && window.contains(key) && window[key].is_string();
        return has ? QString::fromStdString(window[key].get<std::string>()) : QString();
    };
    FileStamp stamp;
    if (window.is_object() && window.contains(kStamp) && window[kStamp].is_array() &&
        window[kStamp].size() == 3 && window[kStamp][0].is_number_integer() &&
        window[kStamp][1].is_number_integer() && window[kStamp][2].is_number_integer())
        stamp = {window[kStamp][0].get<uint64_t>(), window[kStamp][1].get<int64_t>(),
                 window[kStamp][2].get<uint64_t>()};
    return LeftWork{file.filePath(), text(kPhoto), text(kSavedAs), stamp, file.lastModified()};
}

} // namespace

SafeCopy::SafeCopy(Session &session, Jobs &jobs, const QString &folder,
                   std::function<std::string()> window)
    : m_session(session), m_jobs(jobs), m_folder(folder), m_window(std::move(window))
{
    m_timer.setSingleShot(true);
    m_timer.setInterval(kDelayMs);
    connect(&m_timer, &QTimer::timeout, this, &SafeCopy::copyNow);
    connect(&session, &Session::fileChanged, this, &SafeCopy::check);
}

/// The work was changed, saved or thrown away.
void SafeCopy::check()
{
    if (!m_session.isUnsaved()) {
        m_timer.stop();
        m_own.reset();
        m_masks = {};
        m_copied = 0;
    } else if (!m_running && !m_timer.isActive() && m_session.history().stateId() != m_copied) {
        m_timer.start();
    }
}

/// Makes sure of a copy of its own. @return that there is something to be copied
bool SafeCopy::makeOwn()
{
    if (!m_session.isUnsaved())
        return false;
    if (!m_own) {
        (void)makePrivateFolder(m_folder.toStdString());
        const QString name = QUuid::createUuid().toString(QUuid::WithoutBraces);
        m_own =
            std::make_shared<Copy>(QDir(m_folder).filePath(name + QStringLiteral(".buttonhole")));
    }
    return true;
}

Session::Snapshot SafeCopy::snapshot() const
{
    auto out = m_session.snapshotForSaving();
    out.container.windowJson = windowJsonOf(m_window(), m_session);
    if (!m_masks.entries.empty())
        out.container.savedMasks = m_masks;
    return out;
}

void SafeCopy::copyNow()
{
    if (m_running || !makeOwn())
        return;
    m_running = true;
    m_jobs.start(
        {},
        [snapshot = snapshot(), copy = m_own, photo = m_session.photoPath().toStdString()](
            const Run &run) mutable -> Result<Session::Snapshot> {
            if (const auto written =
                    saveContainer(snapshot.container, copy->file.toStdString(), photo, {}, run);
                !written)
                return written.error();
            return std::move(snapshot);
        },
        [this, copy = m_own](Result<Session::Snapshot> written) {
            finish(copy, std::move(written));
        });
}

void SafeCopy::copyForGood()
{
    m_timer.stop();
    if (!makeOwn())
        return;
    m_own->stays = true;
    if (m_session.history().stateId() == m_copied)
        return;
    const std::shared_ptr<Copy> before = m_own;
    if (m_running) { // it is of a state before this; the new one must not wait for it
        m_own.reset();
        (void)makeOwn();
        m_own->stays = true;
    }
    auto last = snapshot();
    const auto written = saveContainer(last.container, m_own->file.toStdString(),
                                       m_session.photoPath().toStdString(), {});
    if (!written)
        Q_EMIT failed(written.error()); // the one before is better than none
    else if (m_own != before)
        before->stays = false;
}

void SafeCopy::finish(const std::shared_ptr<Copy> &copy, Result<Session::Snapshot> written)
{
    m_running = false;
    if (copy != m_own) { // meanwhile the work was saved or thrown away, and perhaps changed again
        check();
        return;
    }
    if (!written) {
        if (written.error().kind != ErrorKind::Cancelled && !std::exchange(m_hasFailed, true))
            Q_EMIT failed(written.error());
        if (!copy->isLocked) // otherwise the copy before is still good
            m_own.reset();
        m_timer.start(); // room may have been made by then
        return;
    }
    m_hasFailed = false;
    m_masks = std::move(written->container.savedMasks);
    m_copied = written->stateId;
    check(); // it may have gone on
    Q_EMIT copied();
}

void SafeCopy::lookForLeft(std::function<void(const QList<LeftWork> &)> then)
{
    m_jobs.start(
        {},
        [folder = m_folder, own = m_own ? m_own->file : QString()](const Run &run) -> Left {
            Left left;
            const auto files = QDir(folder).entryInfoList({QStringLiteral("*.buttonhole")},
                                                          QDir::Files, QDir::Time);
            for (const QFileInfo &file : files) {
                if (file.filePath() == own)
                    continue;
                auto copy = std::make_shared<Copy>(file.filePath());
                copy->stays = true;
                if (!copy->isLocked)
                    continue;
                if (auto work = readLeft(file, run)) {
                    left.copies.push_back(std::move(copy));
                    left.works.append(std::move(*work));
                }
            }
            return left;
        },
        [this, then = std::move(then)](const Left &found) {
            m_left = found.copies;
            then(found.works);
        });
}

void SafeCopy::adopt(const QString &copy)
{
    m_own.reset();
    for (const auto &each : m_left)
        if (each->file == copy)
            m_own = each;
    m_left.clear();
    if (m_own)
        m_own->stays = false;
}

void SafeCopy::throwAway(const QString &copy)
{
    std::erase_if(m_left, [&](const std::shared_ptr<Copy> &each) {
        each->stays = each->stays && each->file != copy;
        return each->file == copy;
    });
}

} // namespace buttonhole::app
