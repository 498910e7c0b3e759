#include "document/block_packer.h"

#include <new>

#include <malloc.h>

namespace buttonhole
{

namespace
{
/// Hours of painting leave holes in the heap that the system does not get back by itself.
constexpr int kTrimEvery = 200;
} // namespace

BlockPacker::BlockPacker() : m_thread([this] { work(); }) {}

BlockPacker::~BlockPacker()
{
    {
        const std::scoped_lock lock(m_mutex);
        m_ends = true;
    }
    m_wake.notify_all();
    m_thread.join();
}

void BlockPacker::add(const std::vector<std::shared_ptr<TileBlock>> &blocks, Way way,
                      const std::shared_ptr<SwapFile> &file)
{
    {
        const std::scoped_lock lock(m_mutex);
        for (const auto &block : blocks)
            m_orders.push_back({block, way, file});
    }
    m_wake.notify_all();
}

void BlockPacker::settle()
{
    std::unique_lock lock(m_mutex);
    m_wake.wait(lock, [this] { return m_orders.empty() && !m_busy; });
}

void BlockPacker::carryOut(const Order &order, const TileBlock &block)
{
    const bool isCold = block.isCold(kColdMoves);
    switch (order.way) {
    case Way::Pack:
        block.pack();
        break;
    case Way::PackCold:
        if (isCold)
            block.pack(true);
        break;
    case Way::Swap:
        (void)block.swapOut(order.file); // the file remembers that it failed
        break;
    case Way::SwapCold:
    case Way::SwapWhole:
        if (isCold)
            (void)block.swapOut(order.file, order.way == Way::SwapCold);
        break;
    }
}

void BlockPacker::work()
{
    std::unique_lock lock(m_mutex);
    for (;;) {
        m_wake.wait(lock, [this] { return m_ends || !m_orders.empty(); });
        if (m_ends)
            return;
        const Order order = std::move(m_orders.front());
        m_orders.pop_front();
        m_busy = true;
        lock.unlock();
        try {
            if (const auto block = order.block.lock())
                carryOut(order, *block);
        } catch (const std::bad_alloc &) {
            // It stays as it was: larger, but whole.
        }
        if (++m_sinceTrim >= kTrimEvery) {
            m_sinceTrim = 0;
            ::malloc_trim(0);
        }
        lock.lock();
        m_busy = false;
        if (m_orders.empty())
            m_wake.notify_all();
    }
}

} // namespace buttonhole
