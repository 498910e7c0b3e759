#include "jobs/side_by_side.h"

#include <QSemaphore>

#include <atomic>
#include <memory>

namespace buttonhole::app
{
namespace
{

/// Outlives the loop: a helper that comes too late finds here that nothing is left.
struct Loop {
    const int count;
    const std::function<void(int)> &body; ///< not to be touched once all are taken
    std::atomic<int> next{0};
    QSemaphore done{0};

    void work()
    {
        for (int i = next++; i < count; i = next++) {
            body(i);
            done.release();
        }
    }
};

} // namespace

void SideBySide::run(int count, const std::function<void(int)> &body)
{
    const auto loop = std::shared_ptr<Loop>(new Loop{count, body});
    for (int helper = 1; helper < std::min(count, m_pool.maxThreadCount()); ++helper)
        m_pool.tryStart([loop] { loop->work(); });
    loop->work();
    loop->done.acquire(count);
}

} // namespace buttonhole::app
