#include "raster/room.h"

#include <bit>
#include <map>
#include <mutex>
#include <new>
#include <vector>

#include <sys/mman.h>

namespace buttonhole
{

namespace
{

constexpr std::align_val_t kAlignment{64};
constexpr size_t kLeast = size_t(128) << 10; ///< smaller ones leave no holes that matter
constexpr size_t kMost = size_t(16) << 20;   ///< larger ones go back at once
constexpr size_t kLarge = size_t(8) << 20;
constexpr size_t kKept = size_t(64) << 20; ///< in all

bool isOfHeap([[maybe_unused]] size_t bytes)
{
#if defined(__SANITIZE_ADDRESS__)
    return true; // which sees what is written past an end
#else
    return bytes < kLeast;
#endif
}

/// Eighths of a power of two: sizes that differ little share room.
size_t sizeClass(size_t bytes)
{
    const size_t step = std::bit_floor(bytes) / 8;
    return (bytes + step - 1) / step * step;
}

class Rooms
{
public:
    /// Never destroyed: rasters may outlive all other statics.
    static Rooms &instance()
    {
        static auto *rooms = new Rooms;
        return *rooms;
    }

    void *take(size_t bytes)
    {
        {
            const std::scoped_lock lock(m_mutex);
            if (const auto at = m_free.find(bytes); at != m_free.end() && !at->second.empty()) {
                void *room = at->second.back();
                at->second.pop_back();
                m_kept -= bytes;
                return room;
            }
        }
        void *pages =
            ::mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        if (pages == MAP_FAILED)
            throw std::bad_alloc();
        if (bytes >= kLarge) // whole rasters: a fraction of the faults
            ::madvise(pages, bytes, MADV_HUGEPAGE);
        return pages;
    }

    void giveBack(void *room, size_t bytes)
    {
        if (bytes > kMost) {
            ::munmap(room, bytes);
            return;
        }
        const std::scoped_lock lock(m_mutex);
        makePlace(bytes);
        m_free[bytes].push_back(room);
        m_kept += bytes;
    }

private:
    /// What is of another size is asked for less often: it goes.
    void makePlace(size_t bytes)
    {
        for (auto at = m_free.rbegin(); at != m_free.rend() && m_kept + bytes > kKept; ++at)
            while (at->first != bytes && !at->second.empty() && m_kept + bytes > kKept)
                drop(*at);
        while (m_kept + bytes > kKept)
            drop(*m_free.find(bytes));
    }
    void drop(std::pair<const size_t, std::vector<void *>> &of)
    {
        ::munmap(of.second.back(), of.first);
        of.second.pop_back();
        m_kept -= of.first;
    }

    std::mutex m_mutex; ///< guards all below
    std::map<size_t, std::vector<void *>> m_free;
    size_t m_kept = 0; ///< bytes
};

} // namespace

void *takeRoom(size_t bytes)
{
    return isOfHeap(bytes) ? ::operator new(bytes, kAlignment)
                           : Rooms::instance().take(sizeClass(bytes));
}

void giveRoomBack(void *room, size_t bytes)
{
    if (isOfHeap(bytes))
        ::operator delete(room, kAlignment);
    else
        Rooms::instance().giveBack(room, sizeClass(bytes));
}

} // namespace buttonhole
