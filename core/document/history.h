#pragma once

#include "document/take.h"

#include <string>

namespace buttonhole
{

/// Undo and redo over everything: a list of states that share all unchanged tiles. Not thread-safe;
/// the states it hands out may be read from any thread.
///
/// Memory: tiles used only by states more than kRawSteps away from the present are packed (LZ4);
/// when what undo alone holds still exceeds the budget, the oldest states are let go.
class History
{
public:
    struct Entry {
        std::string text; ///< what was done, for the list
        Work work;        ///< after it
        std::string mergeKey;
        uint64_t stateId = 0; ///< another for every state, in all histories
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

    void setBudget(size_t bytes) { m_budget = bytes; }
    /// Bytes of tiles that the present state does not use.
    size_t bytes() const;

    static constexpr size_t kRawSteps = 4; ///< states kept unpacked on either side of the present

private:
    void trim();
    std::vector<Entry> m_entries;
    size_t m_index = 0;
    uint64_t m_saved = 0;
    size_t m_budget = size_t(256) << 20;
};

} // namespace buttonhole
