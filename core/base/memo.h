#pragma once

#include <algorithm>
#include <chrono>
#include <cstdint>
#include <functional>
#include <future>
#include <memory>
#include <mutex>
#include <vector>

namespace buttonhole
{

/// Keeps the last few results of slow computations by content id. Who asks for one that is being
/// made waits for it. Thread-safe.
class Memo
{
public:
    using Value = std::shared_ptr<const void>;

    /// @param most how many results are kept
    explicit Memo(size_t most) : m_most(most) {}

    /// What `make` throws, or a null, goes on to all who asked, and is forgotten.
    Value find(uint64_t content, const std::function<Value()> &make)
    {
        std::promise<Value> promise;
        std::shared_future<Value> result;
        {
            const std::scoped_lock lock(m_mutex);
            const auto it = std::find_if(m_entries.begin(), m_entries.end(),
                                         [&](const Entry &e) { return e.content == content; });
            if (it != m_entries.end()) {
                std::rotate(m_entries.begin(), it, it + 1);
                result = m_entries.front().value;
            } else {
                add({content, promise.get_future().share()});
            }
        }
        if (result.valid())
            return result.get();
        try {
            Value value = make();
            if (!value)
                forget(content);
            promise.set_value(value);
            return value;
        } catch (...) {
            forget(content);
            promise.set_exception(std::current_exception());
            throw;
        }
    }

    /// Keeps a value that is there already, in place of the one there was.
    void put(uint64_t content, Value value)
    {
        std::promise<Value> promise;
        promise.set_value(std::move(value));
        const std::scoped_lock lock(m_mutex);
        forgetLocked(content);
        add({content, promise.get_future().share()});
    }

    /// Null while there is none, or it is still being made.
    Value peek(uint64_t content) const
    {
        const std::scoped_lock lock(m_mutex);
        for (const Entry &entry : m_entries)
            if (entry.content == content &&
                entry.value.wait_for(std::chrono::seconds(0)) == std::future_status::ready)
                return entry.value.get();
        return nullptr;
    }

private:
    struct Entry {
        uint64_t content = 0;
        std::shared_future<Value> value;
    };
    void forget(uint64_t content)
    {
        const std::scoped_lock lock(m_mutex);
        forgetLocked(content);
    }
    void forgetLocked(uint64_t content)
    {
        std::erase_if(m_entries, [&](const Entry &e) { return e.content == content; });
    }
    void add(Entry entry)
    {
        m_entries.insert(m_entries.begin(), std::move(entry));
        if (m_entries.size() > m_most)
            m_entries.pop_back();
    }
    const size_t m_most;
    mutable std::mutex m_mutex;
    std::vector<Entry> m_entries; ///< last used first
};

} // namespace buttonhole
