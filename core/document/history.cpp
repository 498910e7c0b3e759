#include "document/history.h"

#include <algorithm>
#include <atomic>
#include <compare>
#include <set>
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

/// What holds planes: a step's shape or a removal's patch. Neither ever changes.
class Holder
{
public:
    explicit Holder(const StepShape &shape) : m_shape(&shape) {}
    explicit Holder(const Patch &patch) : m_patch(&patch) {}
    friend auto operator<=>(const Holder &, const Holder &) = default;

    template <class F>
    void visitBlocks(const F &f) const
    {
        const auto visit = [&](const MaskPlane &plane) { plane.visitBlocks(f); };
        if (m_shape)
            m_shape->visitPlanes(visit);
        else
            m_patch->visitPlanes(visit);
    }

private:
    const StepShape *m_shape = nullptr;
    const Patch *m_patch = nullptr;
};
using Holders = std::set<Holder>;
using Blocks = std::unordered_set<const TileBlock *>;

template <class F>
void visitHolders(const Work &work, const F &f)
{
    for (const auto &take : work.takes) {
        take->visitMasks([&](const Mask &mask) {
            for (const Step &step : mask.steps)
                f(Holder(*step.shape));
        });
        for (const Removal &removal : take->removals)
            if (removal.patch)
                f(Holder(*removal.patch));
    }
}

/// f(block) for each tile; one that two steps share comes twice.
template <class F>
void visitBlocks(const Work &work, const F &f)
{
    visitHolders(work, [&](const Holder &holder) { holder.visitBlocks(f); });
}

/// The blocks of `work` that `other` does not use. What both have needs no look inside.
std::vector<std::shared_ptr<TileBlock>> blocksOnlyIn(const Work &work, const Work &other)
{
    Holders theirs;
    visitHolders(other, [&](const Holder &holder) { theirs.insert(holder); });
    Holders own;
    Holders mine;
    visitHolders(work, [&](const Holder &holder) {
        mine.insert(holder);
        if (!theirs.contains(holder))
            own.insert(holder);
    });
    if (own.empty())
        return {};
    Blocks known;
    for (const Holder &holder : theirs)
        if (!mine.contains(holder))
            holder.visitBlocks([&](const auto &block) { known.insert(block.get()); });
    std::vector<std::shared_ptr<TileBlock>> out;
    for (const Holder &holder : own)
        holder.visitBlocks([&](const auto &block) {
            if (known.insert(block.get()).second)
                out.push_back(block);
        });
    return out;
}

size_t bytesOf(const History::Tiles &tiles)
{
    size_t sum = 0;
    for (const auto &block : tiles.blocks)
        sum += block->bytes();
    return sum;
}

} // namespace

History::History(Work start, std::string text)
{
    m_entries.push_back({std::move(text), std::move(start), {}, newStateId(), {}, {}});
    m_saved = stateId();
}

void History::push(std::string text, Work work, const std::string &mergeKey)
{
    m_entries.resize(m_index + 1);
    Entry &last = m_entries.back();
    if (!mergeKey.empty() && last.mergeKey == mergeKey) {
        last.text = std::move(text);
        last.work = std::move(work);
        compare(m_index);
        last.stateId = newStateId();
        return;
    }
    m_entries.push_back({std::move(text), std::move(work), mergeKey, newStateId(), {}, {}});
    compare(++m_index);
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

void History::compare(size_t index)
{
    if (index == 0)
        return;
    Entry &entry = m_entries[index];
    const Work &before = m_entries[index - 1].work;
    entry.fresh = {blocksOnlyIn(entry.work, before)};
    entry.replaced = {blocksOnlyIn(before, entry.work)};
}

template <class Self, class F>
void History::visitHeld(Self &self, const F &f)
{
    for (size_t i = 1; i <= self.m_index; ++i)
        f(self.m_entries[i].replaced, self.m_index - (i - 1));
    for (size_t i = self.m_entries.size() - 1; i > self.m_index; --i)
        f(self.m_entries[i].fresh, i - self.m_index);
}

size_t History::bytes() const
{
    size_t sum = 0;
    visitHeld(*this, [&](const Tiles &tiles, size_t) { sum += bytesOf(tiles); });
    return sum;
}

void History::setBudget(size_t memory, const std::string &folder, uint64_t disk)
{
    m_budget = memory;
    m_diskBudget = disk;
    if (!folder.empty() && !m_file)
        m_file = SwapFile::create(folder);
    trim();
}

void History::settle()
{
    if (m_packer)
        m_packer->settle();
}

void History::pack()
{
    visitHeld(*this, [&](Tiles &tiles, size_t away) {
        if (away <= kRawSteps) { // near the present: they may have been unpacked again
            tiles.isPacking = tiles.isSwapping = false;
        } else if (!tiles.isPacking && !tiles.blocks.empty()) {
            tiles.isPacking = true;
            m_packer->add(tiles.blocks, BlockPacker::Way::Pack);
        }
    });
}

size_t History::packCold()
{
    size_t bytes = 0;
    std::vector<std::shared_ptr<TileBlock>> cold;
    visitBlocks(present(), [&](const auto &block) {
        bytes += block->bytes();
        if (block->isCold(BlockPacker::kColdMoves) && !block->isPacked())
            cold.push_back(block);
    });
    m_packer->add(cold, BlockPacker::Way::PackCold);
    return bytes;
}

void History::swapCold(size_t held)
{
    // Small levels go only when there is nothing else left to move.
    for (const auto way : {BlockPacker::Way::SwapCold, BlockPacker::Way::SwapWhole}) {
        const bool isSwapped = way == BlockPacker::Way::SwapWhole;
        std::vector<std::shared_ptr<TileBlock>> cold;
        visitBlocks(present(), [&](const auto &block) {
            if (held <= m_budget || block->isSwapped() != isSwapped || !block->isPacked() ||
                !block->isCold(BlockPacker::kColdMoves))
                return;
            const size_t bytes = block->bytes();
            held -= std::min(held, bytes);
            if (bytes > 0)
                cold.push_back(block);
        });
        m_packer->add(cold, way, m_file);
        if (!cold.empty())
            return;
    }
}

void History::swapOut(size_t held)
{
    visitHeld(*this,
              [&](const Tiles &tiles, size_t) { held += tiles.isSwapping ? 0 : bytesOf(tiles); });
    if (!m_file || m_file->hasFailed())
        return;
    visitHeld(*this, [&](Tiles &tiles, size_t away) {
        if (held <= m_budget || away <= kRawSteps || tiles.isSwapping)
            return;
        held -= bytesOf(tiles);
        tiles.isSwapping = true;
        m_packer->add(tiles.blocks, BlockPacker::Way::Swap, m_file);
    });
    swapCold(held);
}

void History::trim()
{
    if (!m_packer)
        m_packer = std::make_unique<BlockPacker>();
    TileBlock::noteMove();
    pack();
    swapOut(packCold());
    const bool swaps = m_file && !m_file->hasFailed();
    while (m_index > 0 && (m_entries.size() > kMostStates ||
                           (swaps ? m_file->bytesInUse() > m_diskBudget : bytes() > m_budget))) {
        m_entries.erase(m_entries.begin());
        --m_index;
        m_entries.front().fresh = m_entries.front().replaced = {};
        m_entries.front().text = "Earlier moves were let go";
    }
}

} // namespace buttonhole
