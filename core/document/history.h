#pragma once

#include "document/block_packer.h"
#include "document/take.h"

#include <string>

namespace buttonhole
{

/// Undo and redo over everything: a list of states that share all unchanged tiles. Not thread-safe;
/// the states it hands out may be read from any thread.
///
/// Memory: tiles used only by states more than kRawSteps away from the present are packed (LZ4), in
/// the background; so are the present's own tiles that nobody has looked at for some moves. When
/// all tiles together exceed the budget, the states farthest back are moved to a file; if that is
/// not enough, the present's cold tiles follow, their small levels last. Without a folder for a
/// file, or when the disk is full, states are let go until undo alone is within the budget.
class History
{
public:
    /// Tiles on one side of a step from state to state.
    struct Tiles {
        std::vector<std::shared_ptr<TileBlock>> blocks;
        bool isPacking = false;
        bool isSwapping = false;
    };
    struct Entry {
        std::string text; ///< what was done, for the list
        Work work;        ///< after it
        std::string mergeKey;
        uint64_t stateId = 0; ///< another for every state, in all histories
        Tiles fresh;          ///< that the state before did not have
        Tiles replaced;       ///< that only states before have
    };

    explicit History(Work start = makeWork(), std::string text = "Opened");

    /// Notes a change. An unnamed (empty) key never merges; a named one replaces the entry before
    /// it if that has the same key and is the present one (drags of one slider become one entry).
    void push(std::string text, Work work, const std::string &mergeKey = {});
    /// Ends merging: the next push makes an entry of its own.
    void seal();
    bool canUndo() const { return m_index > 0; }
    bool canRedo() const { return m_index + 1 < m_entries.size(); }
    void undo();
    void redo();
    void jumpTo(size_t index);

    const Work &present() const { return m_entries[m_index].work; }
    const std::vector<Entry> &entries() const { return m_entries; }
    size_t index() const { return m_index; }

    /// Names the present state, for markSaved() when a save has finished.
    uint64_t stateId() const { return m_entries[m_index].stateId; }
    /// That state is what the file holds, wherever the present is by now.
    void markSaved(uint64_t stateId) { m_saved = stateId; }
    void markUnsaved() { m_saved = 0; }
    bool isSaved() const { return m_saved == stateId(); }

    /// @param memory bytes of tiles
    /// @param folder for what is more (must be there); empty: older states are let go instead
    /// @param disk   bytes of file; beyond, states are let go
    void setBudget(size_t memory, const std::string &folder = {},
                   uint64_t disk = uint64_t(4) << 30);
    /// Bytes of memory for tiles that the present state does not use.
    size_t bytes() const;
    uint64_t swappedBytes() const { return m_file ? m_file->bytesInUse() : 0; }
    /// Waits for the packing in the background.
    void settle();

    static constexpr size_t kMostStates = 1000;
    static constexpr size_t kRawSteps = 4; ///< states kept unpacked on either side of the present

private:
    void compare(size_t index);
    /// Calls f for the tiles that the present does not use, oldest states first, then the newest.
    template <class Self, class F>
    static void visitHeld(Self &self, const F &f);
    void pack();
    size_t packCold(); ///< gives the bytes of the present's tiles
    void swapOut(size_t held);
    void swapCold(size_t held);
    void trim();

    std::vector<Entry> m_entries;
    size_t m_index = 0;
    uint64_t m_saved = 0;
    size_t m_budget = size_t(256) << 20;
    uint64_t m_diskBudget = 0;
    std::shared_ptr<SwapFile> m_file;
    std::unique_ptr<BlockPacker> m_packer;
};

} // namespace buttonhole
