#pragma once

#include "base/give_way.h"
#include "base/result.h"
#include "base/run.h"
#include "raster/parallel_tiles.h"

#include <QCoreApplication>
#include <QObject>
#include <QPointer>
#include <QThreadPool>

#include <memory>
#include <type_traits>

namespace buttonhole::app
{

/// Background work of the window. A job gets values and a Run, and its result comes back by a
/// queued call on the UI thread. It comes back after a stop, too: as Cancelled, or whole where the
/// work was done already (a file that was written stays written). Whom that does not concern any
/// more, because something newer was asked for or it is gone, must know so itself.
class Jobs : public QObject
{
    Q_OBJECT
public:
    explicit Jobs(QObject *parent = nullptr) : QObject(parent) { helpersGiveWay(); }
    ~Jobs() override
    {
        stopAll();
        m_pool.waitForDone();
    }

    /// @param title shown in the status row while it runs; empty: not shown
    /// @param work  Result (const Run &), on a worker thread
    /// @param done  void (Result), on the UI thread
    template <class Work, class Done>
    std::stop_source start(const QString &title, Work work, Done done)
    {
        std::stop_source stop;
        const int id = ++m_last;
        m_running.insert(id, {title, stop, 0});
        Q_EMIT changed();
        m_pool.start([this, id, title, stop, work = std::move(work),
                      done = std::move(done)]() mutable {
            giveWay();
            Run run;
            run.stop = stop.get_token();
            run.progress = [this, id](float fraction) {
                QMetaObject::invokeMethod(this, [this, id, fraction] { progress(id, fraction); });
            };
            auto result = std::make_shared<std::invoke_result_t<Work, const Run &>>(
                guarded(work, run, title.toStdString()));
            QMetaObject::invokeMethod(this, [this, id, result, done = std::move(done)]() mutable {
                finish(id);
                done(std::move(*result));
            });
        });
        return stop;
    }

    /// The job that is shown: the newest titled one.
    QString title() const
    {
        for (auto it = m_running.end(); it != m_running.begin();)
            if (!(--it)->title.isEmpty())
                return it->title;
        return {};
    }
    float fraction() const
    {
        for (auto it = m_running.end(); it != m_running.begin();)
            if (!(--it)->title.isEmpty())
                return it->fraction;
        return 0;
    }
    bool isIdle() const { return m_running.isEmpty(); }
    void stopShown()
    {
        for (auto it = m_running.end(); it != m_running.begin();)
            if (!(--it)->title.isEmpty()) {
                it->stop.request_stop();
                return;
            }
    }
    void stopAll()
    {
        for (auto &job : m_running)
            job.stop.request_stop();
    }

Q_SIGNALS:
    void changed();

private:
    /// Memory may run out anywhere in the work, and a library may throw: the job then fails as any
    /// other can, and the window lives on.
    template <class Work>
    static std::invoke_result_t<Work, const Run &> guarded(Work &work, const Run &run,
                                                           const std::string &title)
    {
        using Out = std::invoke_result_t<Work, const Run &>;
        try {
            return work(run);
        } catch (...) {
            if constexpr (std::is_constructible_v<Out, Error>)
                return Out(caughtError(title));
            else
                return Out{};
        }
    }
    struct Job {
        QString title;
        std::stop_source stop;
        float fraction = 0;
    };
    void progress(int id, float fraction)
    {
        const auto job = m_running.find(id);
        if (job == m_running.end() || fraction <= job->fraction)
            return;
        job->fraction = fraction;
        Q_EMIT changed();
    }
    void finish(int id)
    {
        m_running.remove(id);
        Q_EMIT changed();
    }

    QThreadPool m_pool;
    QMap<int, Job> m_running;
    int m_last = 0;
};

} // namespace buttonhole::app
