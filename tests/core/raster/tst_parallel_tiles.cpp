#include "raster/parallel_tiles.h"

#include "registry.h"

#include <atomic>
#include <tbb/global_control.h>
#include <tbb/task_arena.h>
#include <thread>

using namespace buttonhole;

class TstParallelTiles : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void everyPixelIsVisitedOnce()
    {
        const Rect area{100, 37, 900, 700};
        std::vector<std::atomic<int>> visits(size_t(area.x1) * size_t(area.y1));
        parallelTiles(area, [&](const Rect &tile) {
            for (int y = tile.y0; y < tile.y1; ++y)
                for (int x = tile.x0; x < tile.x1; ++x)
                    ++visits[size_t(y) * size_t(area.x1) + size_t(x)];
        });
        for (int y = 0; y < area.y1; ++y)
            for (int x = 0; x < area.x1; ++x)
                QCOMPARE(visits[size_t(y) * size_t(area.x1) + size_t(x)].load(),
                         x >= area.x0 && y >= area.y0 ? 1 : 0);
    }

    /// A thread at the end of an inner loop waits for the helpers' last parts; were it to take up
    /// another part of the outer loop meanwhile, that could wait for what this one is making.
    void waitingThreadsTakeUpNothingFartherOut()
    {
        static thread_local bool isInside = false;
        std::atomic<int> tangled = 0;
        const tbb::global_control eight(tbb::global_control::max_allowed_parallelism, 8);
        tbb::task_arena(8).execute([&] {
            parallelFor(100, [&](int outer) {
                tangled += isInside ? 1 : 0;
                isInside = true;
                parallelFor(8, [&](int i) {
                    // Uneven, so that some are done before others.
                    std::this_thread::sleep_for(
                        std::chrono::microseconds(i % 3 * 300 + outer * 10));
                });
                isInside = false;
            });
        });
        QCOMPARE(tangled.load(), 0);
    }
};

BUTTONHOLE_TEST(TstParallelTiles)

#include "tst_parallel_tiles.moc"
