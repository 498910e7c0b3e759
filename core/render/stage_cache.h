#pragma once

#include "base/content.h"
#include "raster/parallel_tiles.h"

#include <cstdint>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

namespace buttonhole
{

/// Tiles of stages on the way from photo to picture, kept for the next render that needs the same:
/// a drag of one slider then computes what follows from that slider only. A tile is found by what
/// it was made from (its content), never by when; nothing need be thrown away when a take changes.
/// The least recently used go when the budget is reached. Thread-safe.
class StageCache
{
public:
    enum class Stage : uint8_t {
        Grey,       ///< square roots of the linear grey
        FoldedMask, ///< a keep's steps folded
        KeepMask,   ///< the same grown, feathered and inverted; before strength
    };
    struct Key {
        Stage stage = Stage::Grey;
        uint64_t content = 0;
        int level = 0;
        int tx = 0;
        int ty = 0;
        friend bool operator==(const Key &, const Key &) = default;
    };
    /// The tile's part of the photo, row by row without gaps, in memory of takeTilePixels().
    using Values = std::shared_ptr<const uint16_t[]>;

    explicit StageCache(size_t budgetBytes = size_t(128) << 20) : m_budget(budgetBytes) {}

    Values find(const Key &key);
    /// Keeps a tile of n values. @return what to read from now on: where all are 0 or all 65535, as
    /// most of a mask is, one tile that all such share, which takes no room.
    Values put(const Key &key, Values values, size_t n);
    void setBudget(size_t bytes);
    void clear();
    size_t bytes() const;

private:
    struct Hash {
        size_t operator()(const Key &key) const;
    };
    struct Entry {
        Key key;
        Values values;
        size_t bytes = 0;
    };
    void trim();

    mutable std::mutex m_mutex; ///< guards all below
    size_t m_budget;
    size_t m_bytes = 0;
    std::list<Entry> m_entries; ///< most recently used first
    std::unordered_map<Key, std::list<Entry>::iterator, Hash> m_index;
};

} // namespace buttonhole
