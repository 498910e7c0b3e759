#include "mask/reach_map.h"

#include "io/lab_row.h"
#include "mask/window_rows.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr uint16_t kReached = 0x8000;
constexpr uint16_t kNever = 0x7FFF;                    ///< codes below it: reach 0..1 in 1/32765
constexpr float kJoinsShare = (kJoins - 0.5F) / 65535; ///< rounds to kJoins

/// The code that a reach takes in, rounded down; what needs a reach has the next one.
uint16_t codeOf(float reach)
{
    return uint16_t(int(reach * float(kNever - 2)));
}

/// Where smoothStep() takes a value between 0 and 1.
float smoothStepInverse(float value)
{
    return 0.5F - std::sin(std::asin(1 - 2 * value) / 3);
}

/// Of reach 1: up to this distance a pixel is covered by that share.
float distanceAt(const Match &match, float share)
{
    return 1 - match.soft / 2 + match.soft * (1 - smoothStepInverse(share));
}

} // namespace

ReachMap::ReachMap(const PhotoLevels &levels, int level, const Match &match)
    : m_match(match), m_front(kNever)
{
    readAlone(levels, level);
    for (const Match::Click &click : match.clicks)
        if (!click.isLeft) {
            const Rect all = levels.rectOf(level);
            const int x = std::clamp(int(click.at.x) >> level, 0, all.x1 - 1);
            const int y = std::clamp(int(click.at.y) >> level, 0, all.y1 - 1);
            reachPixel(uint32_t(m_needed.pixel(x + 1, y + 1) - m_needed.row(0)), 0);
        }
}

std::shared_ptr<ReachMap> ReachMap::of(const PhotoLevels &levels, int level, const Match &match)
{
    static const uint64_t kLast = newContent();
    if (const auto last = std::const_pointer_cast<ReachMap>(
            std::static_pointer_cast<const ReachMap>(levels.memo().peek(kLast)))) {
        Match other = match;
        other.reach = last->m_match.reach;
        if (other == last->m_match)
            return last;
    }
    const std::shared_ptr<ReachMap> made(new ReachMap(levels, level, match));
    levels.memo().put(kLast, made);
    return made;
}

void ReachMap::readAlone(const PhotoLevels &levels, int level)
{
    const Rect all = levels.rectOf(level);
    m_needed = Image<uint16_t>(all.x1 + 2, all.y1 + 2, 1);
    std::fill_n(m_needed.row(0), m_needed.count(), kNever);
    const MatchColours colours(m_match);
    const float usual = 1 / distanceAt(m_match, kJoinsShare);
    parallelTiles(all, [&](const Rect &tile) {
        const LabTile &lab = LabTile::of(levels, level, tile);
        alignas(64) float near[kTileSize + 64];
        alignas(64) float joins[kTileSize + 64];
        for (int y = 0; y < tile.height(); ++y) {
            colours.compare(lab.L(y), lab.a(y), lab.b(y), tile.width(), near, joins);
            uint16_t *out = m_needed.pixel(tile.x0 + 1, tile.y0 + y + 1);
            for (int x = 0; x < tile.width(); ++x) {
                if (joins[x] < kJoinsShare)
                    continue;
                const float reach =
                    near[x] *
                    (joins[x] < 1 ? 1 / distanceAt(m_match, kJoinsShare / joins[x]) : usual);
                if (reach < 1)
                    out[x] = codeOf(reach) + 1;
            }
        }
    });
}

void ReachMap::reachPixel(uint32_t at, uint16_t by)
{
    uint16_t &needed = m_needed.row(0)[at];
    if (needed >= kNever)
        return; // never, or reached before: by a way that is no worse
    const uint16_t code = std::max(needed, by);
    needed = code | kReached;
    m_front[code].push_back(at);
}

void ReachMap::flood(uint16_t most)
{
    const auto down = uint32_t(m_needed.stride());
    for (; m_flooded <= most; ++m_flooded) {
        auto &front = m_front[m_flooded];
        while (!front.empty()) {
            const uint32_t at = front.back();
            front.pop_back();
            for (const uint32_t row : {at - down, at, at + down})
                for (const uint32_t next : {row - 1, row, row + 1})
                    reachPixel(next, m_flooded);
        }
        std::vector<uint32_t>().swap(front);
    }
}

void ReachMap::mark(float reach, Image<uint8_t> &inside)
{
    const std::scoped_lock lock(m_mutex);
    const uint16_t most = codeOf(std::clamp(reach, 0.0F, 1.0F));
    flood(most);
    parallelRows(inside.height(), 64, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const uint16_t *needed = m_needed.pixel(1, y + 1);
            uint8_t *out = inside.row(y);
            for (int x = 0; x < inside.width(); ++x)
                out[x] = needed[x] >= kReached && needed[x] <= (most | kReached) ? 255 : 0;
        }
    });
}

} // namespace buttonhole
