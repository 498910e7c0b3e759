#include "render/stage_cache.h"

#include "raster/tile_pool.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

constexpr size_t kTileBytes = sizeof(uint16_t) * kTileSize * kTileSize;
constexpr size_t kFlatBytes = 128; ///< an entry alone

StageCache::Values makeFlat(uint16_t value)
{
    auto out = takeTilePixels();
    std::fill_n(out.get(), size_t(kTileSize) * kTileSize, value);
    return out;
}

/// The tile that stands for all whose n values are 0 or 65535; null: others.
StageCache::Values sharedFlat(const StageCache::Values &values, size_t n)
{
    static const StageCache::Values none = makeFlat(0);
    static const StageCache::Values full = makeFlat(65535);
    for (const auto &flat : {none, full})
        if (std::equal(flat.get(), flat.get() + n, values.get()))
            return flat;
    return nullptr;
}

} // namespace

size_t StageCache::Hash::operator()(const Key &key) const
{
    const uint64_t place =
        uint64_t(uint32_t(key.tx)) | uint64_t(uint32_t(key.ty)) << 24 | uint64_t(key.level) << 48;
    return size_t(joinedContent(joinedContent(key.content, place), uint64_t(key.stage)));
}

StageCache::Values StageCache::find(const Key &key)
{
    const std::scoped_lock lock(m_mutex);
    const auto it = m_index.find(key);
    if (it == m_index.end())
        return nullptr;
    m_entries.splice(m_entries.begin(), m_entries, it->second);
    return it->second->values;
}

StageCache::Values StageCache::put(const Key &key, Values values, size_t n)
{
    const Values flat = sharedFlat(values, n);
    const size_t bytes = flat ? kFlatBytes : kTileBytes;
    if (flat)
        values = flat;
    const std::scoped_lock lock(m_mutex);
    if (m_index.count(key)) // two workers made the same
        return values;
    m_entries.push_front({key, values, bytes});
    m_index.emplace(key, m_entries.begin());
    m_bytes += bytes;
    trim();
    return values;
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
