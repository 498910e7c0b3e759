#include "raster/tile_pool.h"

#include "raster/parallel_tiles.h"

#include <mutex>
#include <new>
#include <vector>

#include <sys/mman.h>

namespace buttonhole
{

namespace
{

constexpr size_t kBytes = size_t(kTileSize) * kTileSize * sizeof(uint16_t);
constexpr size_t kKept = 256; // 32 MB

class TilePool
{
public:
    /// Never destroyed: tiles may outlive all other statics.
    static TilePool &instance()
    {
        static auto *pool = new TilePool;
        return *pool;
    }

    uint16_t *take()
    {
        {
            const std::scoped_lock lock(m_mutex);
            if (!m_free.empty()) {
                uint16_t *pixels = m_free.back();
                m_free.pop_back();
                return pixels;
            }
        }
        void *pages =
            ::mmap(nullptr, kBytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        if (pages == MAP_FAILED)
            throw std::bad_alloc();
        return static_cast<uint16_t *>(pages);
    }

    void giveBack(uint16_t *pixels)
    {
        {
            const std::scoped_lock lock(m_mutex);
            if (m_free.size() < kKept) {
                m_free.push_back(pixels);
                return;
            }
        }
        ::munmap(pixels, kBytes);
    }

private:
    TilePool() { m_free.reserve(kKept); }
    std::mutex m_mutex;
    std::vector<uint16_t *> m_free;
};

} // namespace

std::shared_ptr<uint16_t[]> takeTilePixels()
{
    TilePool &pool = TilePool::instance();
    return {pool.take(), [&pool](uint16_t *pixels) { pool.giveBack(pixels); }};
}

} // namespace buttonhole
