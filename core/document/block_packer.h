#pragma once

#include "raster/mask_plane.h"

#include <condition_variable>
#include <deque>
#include <thread>

namespace buttonhole
{

/// Packs mask tiles and swaps them out, on a thread of its own, in the order they come.
class BlockPacker
{
public:
    BlockPacker();
    ~BlockPacker();
    BlockPacker(const BlockPacker &) = delete;
    BlockPacker &operator=(const BlockPacker &) = delete;

    enum class Way {
        Pack,      ///< in memory
        PackCold,  ///< in memory, but for those used meanwhile; small levels stay at hand
        Swap,      ///< to the file
        SwapCold,  ///< to the file, but for those used meanwhile; small levels stay at hand
        SwapWhole, ///< the same, small levels too
    };
    void add(const std::vector<std::shared_ptr<TileBlock>> &blocks, Way way,
             const std::shared_ptr<SwapFile> &file = nullptr);
    static constexpr uint32_t kColdMoves = 4; ///< moves of the user without a look at a tile
    /// Waits until all that was added is done.
    void settle();

private:
    struct Order {
        std::weak_ptr<TileBlock> block; ///< what nobody wants any more need not be packed
        Way way = Way::Pack;
        std::shared_ptr<SwapFile> file;
    };
    static void carryOut(const Order &order, const TileBlock &block);
    void work();

    std::mutex m_mutex; ///< guards all below but the thread
    std::condition_variable m_wake;
    std::deque<Order> m_orders;
    bool m_busy = false;
    bool m_ends = false;
    int m_sinceTrim = 0; ///< the thread's own
    std::thread m_thread;
};

} // namespace buttonhole
