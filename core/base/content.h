#pragma once

#include <atomic>
#include <bit>
#include <cstdint>
#include <initializer_list>

namespace buttonhole
{

/// Content ids: equal ids mean equal content, so that what was made from it can be found again.

/// An id that nothing had before, in this process.
inline uint64_t newContent()
{
    static std::atomic<uint64_t> last = 0;
    return ++last;
}

/// Joins two ids into one, order counting (splitmix64's finaliser; 64 bits, so that two contents do
/// not meet by chance).
inline uint64_t joinedContent(uint64_t a, uint64_t b)
{
    uint64_t x = a * 0x9E3779B97F4A7C15ULL + b + 0x9E3779B97F4A7C15ULL;
    x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9ULL;
    x = (x ^ (x >> 27)) * 0x94D049BB133111EBULL;
    return x ^ (x >> 31);
}

inline uint64_t joinedContent(uint64_t content, std::initializer_list<float> values)
{
    for (const float value : values)
        content = joinedContent(content, uint64_t(std::bit_cast<uint32_t>(value)));
    return content;
}

} // namespace buttonhole
