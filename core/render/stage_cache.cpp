#include "render/stage_cache.h"

namespace buttonhole
{

size_t StageCache::Hash::operator()(const Key &key) const
{
    const uint64_t place =
        uint64_t(uint32_t(key.tx)) | uint64_t(uint32_t(key.ty)) << 24 | uint64_t(key.level) << 48;
    return size_t(joinedContent(key.content, place));
}

std::shared_ptr<const void> StageCache::findAny(const Key &key, const std::type_info &type)
{
    const std::scoped_lock lock(m_mutex);
    const auto it = m_index.find(key);
    if (it == m_index.end() || *it->second->type != type)
        return nullptr;
    m_entries.splice(m_entries.begin(), m_entries, it->second);
    return it->second->values;
}

void StageCache::putAny(Entry entry)
{
    const std::scoped_lock lock(m_mutex);
    if (m_index.count(entry.key)) // two workers made the same
        return;
    m_bytes += entry.bytes;
    m_entries.push_front(std::move(entry));
    m_index.emplace(m_entries.front().key, m_entries.begin());
    trim();
}

void StageCache::trim()
{
    while (m_bytes > m_budget && !m_entries.empty()) {
        m_bytes -= m_entries.back().bytes;
        m_index.erase(m_entries.back().key);
        m_entries.pop_back();
    }
}

void StageCache::setBudget(size_t bytes)
{
    const std::scoped_lock lock(m_mutex);
    m_budget = bytes;
    trim();
}

void StageCache::clear()
{
    const std::scoped_lock lock(m_mutex);
    m_index.clear();
    m_entries.clear();
    m_bytes = 0;
}

size_t StageCache::bytes() const
{
    const std::scoped_lock lock(m_mutex);
    return m_bytes;
}

} // namespace buttonhole
