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

    /// The present state is what the file holds.
    void markSaved() { m_saved = ptrdiff_t(m_index); }
    void markUnsaved() { m_saved = -1; }
    bool isSaved() const { return m_saved == ptrdiff_t(m_index); }

    void setBudget(size_t bytes) { m_budget = bytes; }
    /// Bytes of tiles that the present state does not use.
    size_t bytes() const;

    static constexpr size_t kRawSteps = 4; ///< states kept unpacked on either side of the present

private:
    void trim();
    std::vector<Entry> m_entries;
    size_t m_index = 0;
    ptrdiff_t m_saved = 0;
    size_t m_budget = size_t(256) << 20;
};

} // namespace buttonhole
