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

template <class T>
class TilePool
{
public:
    /// Never destroyed: tiles may outlive all other statics.
    static TilePool &instance()
    {
        static auto *pool = new TilePool;
        return *pool;
    }

    T *take()
    {
        {
            const std::scoped_lock lock(m_mutex);
            if (!m_free.empty()) {
                T *pixels = m_free.back();
                m_free.pop_back();
                return pixels;
            }
        }
        void *pages =
            ::mmap(nullptr, kBytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        if (pages == MAP_FAILED)
            throw std::bad_alloc();
        return static_cast<T *>(pages);
    }

    void giveBack(T *pixels)
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
    static constexpr size_t kBytes = size_t(kTileSize) * kTileSize * sizeof(T);
    static constexpr size_t kKept = (size_t(24) << 20) / kBytes;

    TilePool() { m_free.reserve(kKept); }
    std::mutex m_mutex;
    std::vector<T *> m_free;
};

template <class T>
std::shared_ptr<T[]> takeFromPool()
{
    auto &pool = TilePool<T>::instance();
    return {pool.take(), [&pool](T *pixels) { pool.giveBack(pixels); }};
}

} // namespace

std::shared_ptr<uint16_t[]> takeTilePixels()
{
    return takeFromPool<uint16_t>();
}

std::shared_ptr<uint32_t[]> takeTileColours()
{
    return takeFromPool<uint32_t>();
}

} // namespace buttonhole
