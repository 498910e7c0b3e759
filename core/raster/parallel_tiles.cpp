#include "raster/parallel_tiles.h"

#include "base/give_way.h"

#if defined(__SANITIZE_THREAD__)
#define BUTTONHOLE_PLAIN_THREADS 1
#elif defined(__has_feature)
#if __has_feature(thread_sanitizer)
#define BUTTONHOLE_PLAIN_THREADS 1
#endif
#endif

#ifdef BUTTONHOLE_PLAIN_THREADS
#include <atomic>
#include <thread>
#include <vector>
#else
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>
#include <tbb/task_scheduler_observer.h>
#endif

namespace buttonhole
{

#ifdef BUTTONHOLE_PLAIN_THREADS
void helpersGiveWay() {}
#else
namespace
{

class HelperObserver : public tbb::task_scheduler_observer
{
public:
    HelperObserver() { observe(true); }
    ~HelperObserver() override { observe(false); }
    void on_scheduler_entry(bool isHelper) override
    {
        if (isHelper)
            giveWay();
    }
};

} // namespace

void helpersGiveWay()
{
    static const HelperObserver observer;
}
#endif

void parallelFor(int count, const std::function<void(int)> &body)
{
    if (count <= 0)
        return;
    if (count == 1) {
        body(0);
        return;
    }
#ifdef BUTTONHOLE_PLAIN_THREADS
    // Debian's oneTBB is not instrumented: under ThreadSanitizer it hides races and reports false
    // ones.
    std::atomic<int> next{0};
    std::vector<std::jthread> threads;
    for (int t = 0; t < 4; ++t)
        threads.emplace_back([&] {
            for (int i = next++; i < count; i = next++)
                body(i);
        });
#else
    // Isolated: a thread that waits for a loop's end must not take up a task of a loop farther out,
    // which may ask for what this very thread is making (see Memo).
    tbb::this_task_arena::isolate([&] { tbb::parallel_for(0, count, [&](int i) { body(i); }); });
#endif
}

void parallelTiles(const Rect &area, const std::function<void(const Rect &)> &body)
{
    if (area.isEmpty())
        return;
    const int tx0 = area.x0 / kTileSize;
    const int ty0 = area.y0 / kTileSize;
    const int columns = (area.x1 - 1) / kTileSize - tx0 + 1;
    const int rows = (area.y1 - 1) / kTileSize - ty0 + 1;
    parallelFor(columns * rows, [&](int i) {
        const int x = (tx0 + i % columns) * kTileSize;
        const int y = (ty0 + i / columns) * kTileSize;
        body(intersected(area, {x, y, x + kTileSize, y + kTileSize}));
    });
}

void parallelRows(int rows, int rowsEach, const std::function<void(int, int)> &body)
{
    parallelFor((rows + rowsEach - 1) / rowsEach,
                [&](int i) { body(i * rowsEach, std::min(rows, (i + 1) * rowsEach)); });
}

} // namespace buttonhole
