#pragma once

#include "base/content.h"

#include <cstdint>
#include <list>
#include <memory>
#include <mutex>
#include <typeinfo>
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
    struct Key {
        uint64_t content = 0; ///< of all that the values are made from, and of what they are
        int level = 0;
        int tx = 0;
        int ty = 0;
        friend bool operator==(const Key &, const Key &) = default;
    };

    /// Whether tiles come again only for what looks at those beside them, or for other renders too.
    enum class Use { Many, OnePass };
    explicit StageCache(size_t budgetBytes = size_t(128) << 20, Use use = Use::Many)
        : m_budget(budgetBytes), m_use(use)
    {
    }
    bool isForOnePass() const { return m_use == Use::OnePass; }

    /// Null where there is none, or not of that type.
    template <class T>
    std::shared_ptr<const T> find(const Key &key)
    {
        return std::static_pointer_cast<const T>(findAny(key, typeid(T)));
    }
    template <class T>
    void put(const Key &key, std::shared_ptr<const T> values, size_t bytes)
    {
        putAny({key, std::move(values), &typeid(T), bytes});
    }
    void setBudget(size_t bytes);
    void clear();
    size_t bytes() const;

private:
    struct Hash {
        size_t operator()(const Key &key) const;
    };
    struct Entry {
        Key key;
        std::shared_ptr<const void> values;
        const std::type_info *type = nullptr;
        size_t bytes = 0;
    };
    std::shared_ptr<const void> findAny(const Key &key, const std::type_info &type);
    void putAny(Entry entry);
    void trim();

    mutable std::mutex m_mutex; ///< guards all below
    size_t m_budget;
    const Use m_use;
    size_t m_bytes = 0;
    std::list<Entry> m_entries; ///< most recently used first
    std::unordered_map<Key, std::list<Entry>::iterator, Hash> m_index;
};

} // namespace buttonhole
