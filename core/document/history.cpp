#include "document/history.h"

#include <algorithm>
#include <atomic>
#include <unordered_set>

namespace buttonhole
{

namespace
{

uint64_t newStateId()
{
    static std::atomic<uint64_t> last = 0;
    return ++last;
}

using Blocks = std::unordered_set<const TileBlock *>;

void visitBlocks(const Work &work, const std::function<void(const std::shared_ptr<TileBlock> &)> &f)
{
    for (const auto &take : work.takes)
        take->visitPlanes([&](const MaskPlane &plane) { plane.visitBlocks(f); });
}

} // namespace

History::History(Work start, std::string text)
{
    m_entries.push_back({std::move(text), std::move(start), {}, newStateId()});
    m_saved = stateId();
}

void History::push(std::string text, Work work, const std::string &mergeKey)
{
    m_entries.resize(m_index + 1);
    Entry &last = m_entries.back();
    if (!mergeKey.empty() && last.mergeKey == mergeKey) {
        last.work = std::move(work);
        last.stateId = newStateId();
        return;
    }
    m_entries.push_back({std::move(text), std::move(work), mergeKey, newStateId()});
    ++m_index;
    trim();
}

void History::seal()
{
    m_entries[m_index].mergeKey.clear();
}

void History::undo()
{
    if (canUndo())
        jumpTo(m_index - 1);
}

void History::redo()
{
    if (canRedo())
        jumpTo(m_index + 1);
}

void History::jumpTo(size_t index)
{
    seal();
    m_index = std::min(index, m_entries.size() - 1);
    trim();
}

size_t History::bytes() const
{
    Blocks present;
    visitBlocks(this->present(), [&](const auto &block) { present.insert(block.get()); });
    Blocks counted;
    size_t sum = 0;
    for (const Entry &entry : m_entries)
        visitBlocks(entry.work, [&](const auto &block) {
            if (!present.count(block.get()) && counted.insert(block.get()).second)
                sum += block->bytes();
        });
    return sum;
}

void History::trim()
{
    const size_t from = m_index > kRawSteps ? m_index - kRawSteps : 0;
    const size_t to = std::min(m_entries.size(), m_index + kRawSteps + 1);
    Blocks raw;
    for (size_t i = from; i < to; ++i)
        visitBlocks(m_entries[i].work, [&](const auto &block) { raw.insert(block.get()); });
    // Only states that just left the window can hold fresh raw tiles; one more on either side.
    for (size_t i = 0; i < m_entries.size(); ++i) {
        if ((i >= from && i < to) || i + 2 < from || i > to + 1)
            continue;
        visitBlocks(m_entries[i].work, [&](const auto &block) {
            if (!raw.count(block.get()))
                block->pack();
        });
    }
    while (m_index > 0 && bytes() > m_budget) {
        m_entries.erase(m_entries.begin());
        --m_index;
        m_entries.front().text = "Earlier moves were let go";
    }
}

} // namespace buttonhole
