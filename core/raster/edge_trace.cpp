#include "raster/edge_trace.h"

#include <cmath>
#include <unordered_map>

namespace buttonhole
{

namespace
{

constexpr int kHalf = 32768;

/// Crossing edges of a square by its corners (bit 0 top-left, 1 top-right, 2 bottom-right, 3
/// bottom-left): pairs (from, to) with the covered side to the right. Edges: 0 top, 1 right,
/// 2 bottom, 3 left.
struct Crossings {
    int count;
    int from[2];
    int to[2];
};
constexpr Crossings kTable[16] = {
    {0, {}, {}},   {1, {0}, {3}},       {1, {1}, {0}},       {1, {1}, {3}},
    {1, {2}, {1}}, {2, {0, 2}, {3, 1}}, {1, {2}, {0}},       {1, {2}, {3}},
    {1, {3}, {2}}, {1, {0}, {2}},       {2, {1, 3}, {0, 2}}, {1, {1}, {2}},
    {1, {3}, {1}}, {1, {0}, {1}},       {1, {3}, {0}},       {0, {}, {}},
};

class Tracer
{
public:
    Tracer(const uint16_t *mask, int width, int height) : m_mask(mask), m_width(width)
    {
        for (int y = 0; y + 1 < height; ++y)
            for (int x = 0; x + 1 < width; ++x)
                square(x, y);
    }

    std::vector<EdgeLine> lines(size_t most)
    {
        std::vector<EdgeLine> out;
        size_t points = 0;
        for (const auto &[from, to] : m_next)
            if (!m_entered.count(from) && points < most)
                points += follow(from, out);
        for (const auto &[from, to] : m_next)
            if (!m_used.count(from) && points < most)
                points += follow(from, out);
        return out;
    }

private:
    uint16_t at(int x, int y) const { return m_mask[size_t(y) * size_t(m_width) + size_t(x)]; }

    /// Every grid edge has a number: horizontal ones even, vertical ones odd.
    uint64_t edgeId(int x, int y, int edge) const
    {
        switch (edge) {
        case 0:
            return (uint64_t(y) * uint64_t(m_width) + uint64_t(x)) * 2;
        case 1:
            return (uint64_t(y) * uint64_t(m_width) + uint64_t(x) + 1) * 2 + 1;
        case 2:
            return (uint64_t(y + 1) * uint64_t(m_width) + uint64_t(x)) * 2;
        default:
            return (uint64_t(y) * uint64_t(m_width) + uint64_t(x)) * 2 + 1;
        }
    }

    EdgePoint pointOn(uint64_t id) const
    {
        const int x = int(id / 2 % uint64_t(m_width));
        const int y = int(id / 2 / uint64_t(m_width));
        const bool isVertical = (id & 1) != 0;
        const float a = at(x, y);
        const float b = isVertical ? at(x, y + 1) : at(x + 1, y);
        const float t = a == b ? 0.5F : std::clamp((kHalf - 0.5F - a) / (b - a), 0.0F, 1.0F);
        return {float(x) + 0.5F + (isVertical ? 0 : t), float(y) + 0.5F + (isVertical ? t : 0)};
    }

    void square(int x, int y)
    {
        const int corners = (at(x, y) >= kHalf ? 1 : 0) | (at(x + 1, y) >= kHalf ? 2 : 0) |
                            (at(x + 1, y + 1) >= kHalf ? 4 : 0) | (at(x, y + 1) >= kHalf ? 8 : 0);
        const Crossings &crossings = kTable[corners];
        for (int i = 0; i < crossings.count; ++i) {
            const uint64_t from = edgeId(x, y, crossings.from[i]);
            const uint64_t to = edgeId(x, y, crossings.to[i]);
            m_next[from] = to;
            m_entered[to] = true;
        }
    }

    size_t follow(uint64_t start, std::vector<EdgeLine> &out)
    {
        EdgeLine line;
        uint64_t id = start;
        for (;;) {
            line.points.push_back(pointOn(id));
            m_used[id] = true;
            const auto next = m_next.find(id);
            if (next == m_next.end())
                break;
            id = next->second;
            if (id == start) {
                line.isClosed = true;
                break;
            }
        }
        out.push_back(std::move(line));
        return out.back().points.size();
    }

    const uint16_t *m_mask;
    int m_width;
    std::unordered_map<uint64_t, uint64_t> m_next;
    std::unordered_map<uint64_t, bool> m_entered;
    std::unordered_map<uint64_t, bool> m_used;
};

} // namespace

std::vector<EdgeLine> traceEdge(const uint16_t *mask, int width, int height, size_t most)
{
    return Tracer(mask, width, height).lines(most);
}

EdgeLine movedOutward(const EdgeLine &line, float distance)
{
    const auto n = ptrdiff_t(line.points.size());
    EdgeLine out;
    out.isClosed = line.isClosed;
    out.points.reserve(line.points.size());
    constexpr ptrdiff_t kAround = 3;
    const auto at = [&](ptrdiff_t i) {
        return line
            .points[size_t(line.isClosed ? (i % n + n) % n : std::clamp<ptrdiff_t>(i, 0, n - 1))];
    };
    for (ptrdiff_t i = 0; i < n; ++i) {
        EdgePoint mean;
        for (ptrdiff_t k = -kAround; k <= kAround; ++k) {
            mean.x += at(i + k).x / float(2 * kAround + 1);
            mean.y += at(i + k).y / float(2 * kAround + 1);
        }
        const EdgePoint before = at(i - kAround);
        const EdgePoint after = at(i + kAround);
        const float dx = after.x - before.x;
        const float dy = after.y - before.y;
        const float length = std::hypot(dx, dy);
        // The covered side is to the right of the direction (dx, dy): away from it is (dy, -dx).
        if (length > 0) {
            mean.x += dy / length * distance;
            mean.y -= dx / length * distance;
        }
        out.points.push_back(mean);
    }
    return out;
}

} // namespace buttonhole
