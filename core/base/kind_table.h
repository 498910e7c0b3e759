#pragma once

#include <cassert>
#include <deque>
#include <mutex>
#include <string_view>
#include <vector>

namespace buttonhole
{

/// The kinds of something, each a row with an `id`. Rows stay where they are. Thread-safe.
template <class Kind>
class KindTable
{
public:
    KindTable() = default;
    explicit KindTable(std::deque<Kind> rows) : m_rows(std::move(rows)) {}

    /// Null where there is none of that id.
    const Kind *find(std::string_view id) const
    {
        const std::scoped_lock lock(m_mutex);
        for (const Kind &kind : m_rows)
            if (kind.id == id)
                return &kind;
        return nullptr;
    }
    std::vector<const Kind *> all() const
    {
        const std::scoped_lock lock(m_mutex);
        std::vector<const Kind *> out;
        for (const Kind &kind : m_rows)
            out.push_back(&kind);
        return out;
    }
    /// Once for each id, before files are read.
    void add(Kind kind)
    {
        assert(!find(kind.id));
        const std::scoped_lock lock(m_mutex);
        m_rows.push_back(std::move(kind));
    }

private:
    mutable std::mutex m_mutex;
    std::deque<Kind> m_rows;
};

} // namespace buttonhole
