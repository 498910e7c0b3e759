#include "jobs/side_by_side.h"

#include <QSemaphore>

#include <atomic>
#include <exception>
#include <memory>

namespace buttonhole::app
{
namespace
{

/// Outlives the loop: a helper that comes too late finds here that nothing is left.
struct Loop {
    Loop(int n, const std::function<void(int)> &what) : count(n), body(what) {}
    const int count;
    const std::function<void(int)> &body; ///< not to be touched once all are taken
    std::atomic<int> next{0};
    QSemaphore done{0};
    std::atomic_flag hasThrown;
    std::exception_ptr thrown; ///< the first, to be thrown on by who called run()

    void work()
    {
        for (int i = next++; i < count; i = next++) {
            try {
                body(i);
            } catch (...) {
                if (!hasThrown.test_and_set())
                    thrown = std::current_exception();
            }
            done.release();
        }
    }
};

} // namespace

void SideBySide::run(int count, const std::function<void(int)> &body)
{
    const auto loop = std::shared_ptr<Loop>(new Loop(count, body));
    for (int helper = 1; helper < std::min(count, m_pool.maxThreadCount()); ++helper)
        m_pool.tryStart([loop] { loop->work(); });
    loop->work();
    loop->done.acquire(count);
    if (loop->thrown)
        std::rethrow_exception(loop->thrown);
}

} // namespace buttonhole::app
