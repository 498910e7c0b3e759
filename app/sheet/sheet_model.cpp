#include "sheet/sheet_model.h"

#include "base/give_way.h"
#include "sheet/quick_picture.h"

#include <QCollator>
#include <QCoreApplication>
#include <QDateTime>
#include <QFileInfo>
#include <QGuiApplication>
#include <QPointer>
#include <QSet>

#include <algorithm>
#include <deque>
#include <functional>
#include <mutex>
#include <optional>
#include <stop_token>

namespace buttonhole::app
{

namespace
{

constexpr int kKiloBytes = 160 * 1024; ///< of pictures held: some 1000

} // namespace

/// Pictures that are to be made: what is in sight, the last asked for first, then the rest.
struct SheetModel::Queue {
    std::mutex mutex; ///< guards all below
    std::deque<QString> seen;
    std::deque<QString> rest;
    QSet<QString> taken; ///< made, or being made
    int workers = 0;     ///< that will ask for more
    std::stop_source stop;
    double ratio = 1; ///< of the screen's pixels
    std::function<void(const QString &, const QImage &)> done;

    /// Nothing: there is no more to do, and who asked ends. What is added thereafter needs another
    /// worker, which is seen under the same lock: none is missed.
    std::optional<QString> next()
    {
        const std::scoped_lock lock(mutex);
        while (!seen.empty() || !rest.empty()) {
            const QString path = seen.empty() ? rest.front() : seen.back();
            seen.empty() ? rest.pop_front() : seen.pop_back();
            if (taken.contains(path))
                continue;
            taken.insert(path);
            return path;
        }
        --workers;
        return {};
    }
};

namespace
{

/// As it is drawn, without more work for the one who draws it.
QImage fitted(const QImage &image, double ratio)
{
    if (image.isNull())
        return image;
    const QSize room = (QSizeF(SheetModel::kRoom) * ratio).toSize().boundedTo(image.size());
    QImage out = image.scaled(room, Qt::KeepAspectRatio, Qt::SmoothTransformation)
                     .convertToFormat(QImage::Format_RGB32);
    out.setDevicePixelRatio(ratio);
    return out;
}

} // namespace

void SheetModel::work(const std::shared_ptr<Queue> &queue)
{
    giveWay();
    Run run;
    run.stop = queue->stop.get_token();
    while (const auto path = queue->next()) {
        if (run.stopped())
            return;
        const QString from = QString::fromStdString(toOpen(path->toStdString()));
        QImage image = sheetPicture(from, run);
        if (image.isNull() && from != *path) // a work that is damaged
            image = sheetPicture(*path, run);
        queue->done(*path, fitted(image, queue->ratio));
    }
}

SheetModel::SheetModel(QObject *parent)
    : QAbstractListModel(parent), m_queue(std::make_shared<Queue>()), m_pictures(kKiloBytes)
{
    m_pool.setMaxThreadCount(2);
}

SheetModel::~SheetModel()
{
    m_queue->stop.request_stop();
    m_pool.clear();
    m_pool.waitForDone();
}

void SheetModel::setJob(PhotoJob job)
{
    m_queue->stop.request_stop();
    m_pool.clear();
    m_queue = std::make_shared<Queue>();
    m_queue->ratio = qGuiApp->devicePixelRatio();
    m_queue->done = [this, guard = QPointer(this),
                     generation = ++m_generation](const QString &path, const QImage &image) {
        QMetaObject::invokeMethod(qApp, [this, guard, path, image, generation] {
            if (guard)
                receive(path, image, generation);
        });
    };
    beginResetModel();
    m_job = std::move(job);
    m_rows.assign(m_job.photos.size(), {});
    m_rowOf.clear();
    m_pending = 0;
    for (size_t i = 0; i < m_rows.size(); ++i) {
        m_rows[i].path = QString::fromStdString(m_job.photos[i].path);
        m_rows[i].name = m_rows[i].path.section(u'/', -1);
        m_rowOf[m_rows[i].path] = int(i);
    }
    endResetModel();
    readFacts();
    for (size_t i = 0; i < m_rows.size(); ++i) // the rest comes after what is looked at
        ask(i, false);
    Q_EMIT jobChanged();
}

/// Looks in the background which photos have works, and when they were changed.
void SheetModel::readFacts()
{
    struct Fact {
        bool hasWork = false;
        qint64 changedMs = 0;
    };
    QStringList paths;
    for (const Row &row : m_rows)
        paths += row.path;
    m_pool.start(
        [this, guard = QPointer(this), paths, generation = m_generation] {
            std::vector<Fact> facts;
            for (const QString &path : paths)
                facts.push_back(
                    {QFileInfo::exists(QString::fromStdString(workBeside(path.toStdString()))),
                     QFileInfo(path).lastModified().toMSecsSinceEpoch()});
            QMetaObject::invokeMethod(qApp, [this, guard, facts, generation] {
                if (!guard || generation != m_generation)
                    return;
                for (size_t i = 0; i < m_rows.size(); ++i) {
                    m_rows[i].hasWork = facts[i].hasWork;
                    m_rows[i].changedMs = facts[i].changedMs;
                }
                if (!m_rows.empty())
                    Q_EMIT dataChanged(index(0), index(int(m_rows.size()) - 1));
            });
        },
        1); // before pictures
}

void SheetModel::refresh()
{
    for (size_t i = 0; i < m_rows.size(); ++i)
        if (m_rows[i].hasWork) // its look may be another by now
            askAgain(i);
    readFacts();
}

void SheetModel::setWorking(const QString &path)
{
    const QString before = std::exchange(m_working, path);
    for (const QString &each : {before, path})
        if (const auto at = m_rowOf.find(each); at != m_rowOf.end())
            Q_EMIT dataChanged(index(*at), index(*at));
}

void SheetModel::mark(const QString &path, const std::function<void(JobPhoto &)> &change)
{
    const auto at = m_rowOf.find(path);
    if (at == m_rowOf.end())
        return;
    change(m_job.photos[size_t(*at)]);
    readFacts();
    askAgain(size_t(*at));
    Q_EMIT dataChanged(index(*at), index(*at));
    Q_EMIT jobChanged();
}

void SheetModel::remove(const QStringList &paths)
{
    PhotoJob rest = m_job;
    std::erase_if(rest.photos, [&](const JobPhoto &photo) {
        return paths.contains(QString::fromStdString(photo.path));
    });
    setJob(std::move(rest));
}

void SheetModel::want(int first, int last)
{
    for (int row = std::max(0, first); row <= last && row < int(m_rows.size()); ++row)
        if (!m_pictures.contains(m_rows[size_t(row)].path))
            m_rows[size_t(row)].isPending ? ask(size_t(row), true) : askAgain(size_t(row));
}

void SheetModel::ask(size_t row, bool isSeen)
{
    Row &each = m_rows[row];
    if (!each.isPending)
        ++m_pending;
    each.isPending = true;
    const std::scoped_lock lock(m_queue->mutex);
    (isSeen ? m_queue->seen : m_queue->rest).push_back(each.path);
    if (m_queue->workers < m_pool.maxThreadCount()) {
        ++m_queue->workers;
        m_pool.start([queue = m_queue] { work(queue); });
    }
}

/// It is made anew, whatever there is.
void SheetModel::askAgain(size_t row)
{
    {
        const std::scoped_lock lock(m_queue->mutex);
        m_queue->taken.remove(m_rows[row].path);
    }
    ask(row, true);
}

void SheetModel::receive(const QString &path, const QImage &image, int generation)
{
    if (generation != m_generation)
        return;
    const int kiloBytes = std::max(1, int(image.sizeInBytes() / 1024));
    m_pictures.insert(path, new QImage(image), kiloBytes);
    if (const auto at = m_rowOf.find(path); at != m_rowOf.end()) {
        m_pending -= std::exchange(m_rows[size_t(*at)].isPending, false) ? 1 : 0;
        Q_EMIT dataChanged(index(*at), index(*at), {PictureRole});
    }
    Q_EMIT progressed();
}

int SheetModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(m_rows.size());
}

SheetModel::State SheetModel::stateOf(size_t row) const
{
    if (m_rows[row].path == m_working)
        return Working;
    if (m_job.photos[row].isDelivered)
        return Delivered;
    return m_rows[row].hasWork ? Saved : Untouched;
}

QString SheetModel::stateWord(State state)
{
    switch (state) {
    case Untouched:
        break;
    case Working:
        return tr("not saved yet");
    case Saved:
        return tr("saved");
    case Delivered:
        return tr("delivered");
    }
    return tr("untouched");
}

QVariant SheetModel::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || index.row() >= int(m_rows.size()))
        return {};
    const auto row = size_t(index.row());
    const Row &each = m_rows[row];
    const bool wantsALook = m_job.photos[row].wantsALook;
    switch (role) {
    case Qt::DisplayRole:
        return each.name;
    case Qt::AccessibleTextRole:
        return each.name + QStringLiteral(", ") + stateWord(stateOf(row));
    case PathRole:
        return each.path;
    case StateRole:
        return stateOf(row);
    case ChangedRole:
        return each.changedMs;
    case LookRole:
        return wantsALook;
    case PictureRole:
        if (const QImage *image = m_pictures.object(each.path))
            return *image;
        return {};
    default:
        return {};
    }
}

void SheetFilter::setText(const QString &text)
{
    m_text = text;
    invalidateFilter();
}

void SheetFilter::setState(int state)
{
    m_state = state;
    invalidateFilter();
}

void SheetFilter::sortByTime(bool byTime)
{
    m_byTime = byTime;
    invalidate();
    sort(0);
}

bool SheetFilter::filterAcceptsRow(int row, const QModelIndex &parent) const
{
    const QModelIndex index = sourceModel()->index(row, 0, parent);
    if (!index.data().toString().contains(m_text, Qt::CaseInsensitive))
        return false;
    if (m_state == -2)
        return index.data(SheetModel::LookRole).toBool();
    return m_state < 0 || index.data(SheetModel::StateRole).toInt() == m_state;
}

bool SheetFilter::lessThan(const QModelIndex &a, const QModelIndex &b) const
{
    if (m_byTime)
        return a.data(SheetModel::ChangedRole).toLongLong() <
               b.data(SheetModel::ChangedRole).toLongLong();
    static const QCollator byName = [] {
        // The C locale has no order of numbers.
        const bool isPlain = QLocale().language() == QLocale::C;
        QCollator out(isPlain ? QLocale(QLocale::English) : QLocale());
        out.setNumericMode(true); // 2 before 10
        return out;
    }();
    return byName.compare(a.data().toString(), b.data().toString()) < 0;
}

} // namespace buttonhole::app
