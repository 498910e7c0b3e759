#pragma once

#include "job/photo_job.h"

#include <QAbstractListModel>
#include <QCache>
#include <QImage>
#include <QSize>
#include <QSortFilterProxyModel>
#include <QThreadPool>

#include <memory>

namespace buttonhole::app
{

/// The photos of a job, with pictures that come in the background: what is looked at first.
class SheetModel : public QAbstractListModel
{
    Q_OBJECT
public:
    enum State { Untouched, Working, Saved, Delivered };
    enum Role { PathRole = Qt::UserRole, StateRole, ChangedRole, LookRole, PictureRole };

    static constexpr QSize kRoom{180, 132}; ///< for a picture

    explicit SheetModel(QObject *parent = nullptr);
    ~SheetModel() override;

    const PhotoJob &job() const { return m_job; }
    void setJob(PhotoJob job);
    /// The photo that is open with unsaved work; empty: none.
    void setWorking(const QString &path);
    /// Of a photo by its path: what came of it.
    void mark(const QString &path, const std::function<void(JobPhoto &)> &change);
    void remove(const QStringList &paths);
    /// Looks again at the works and pictures of what may have changed.
    void refresh();
    /// Asks for the pictures of rows that come into sight.
    void want(int first, int last);
    int pending() const { return m_pending; } ///< pictures that are still to come

    int rowCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    static QString stateWord(State state);

Q_SIGNALS:
    void jobChanged();
    void progressed(); ///< another picture is there

private:
    struct Row {
        QString path;
        QString name;
        bool hasWork = false;
        qint64 changedMs = 0;   ///< when the file was last changed
        bool isPending = false; ///< its picture is still to come
    };
    void readFacts();
    State stateOf(size_t row) const;
    void ask(size_t row, bool isSeen);
    void askAgain(size_t row);
    void receive(const QString &path, const QImage &image, int generation);
    struct Queue;
    static void work(const std::shared_ptr<Queue> &queue);

    PhotoJob m_job;
    std::vector<Row> m_rows;
    QHash<QString, int> m_rowOf;
    QString m_working;
    QThreadPool m_pool;
    std::shared_ptr<Queue> m_queue;
    int m_generation = 0;
    int m_pending = 0;
    QCache<QString, QImage> m_pictures;
};

/// By state and by what is typed; in the order of time or of names.
class SheetFilter : public QSortFilterProxyModel
{
    Q_OBJECT
public:
    using QSortFilterProxyModel::QSortFilterProxyModel;
    void setText(const QString &text);
    /// @param state -1: any; -2: those that want a look
    void setState(int state);
    void sortByTime(bool byTime);

protected:
    bool filterAcceptsRow(int row, const QModelIndex &parent) const override;
    bool lessThan(const QModelIndex &a, const QModelIndex &b) const override;

private:
    QString m_text;
    int m_state = -1;
    bool m_byTime = false;
};

} // namespace buttonhole::app
