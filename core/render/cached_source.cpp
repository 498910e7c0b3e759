#include "render/cached_source.h"

#include "render/cached_tile.h"

#include <algorithm>
#include <vector>

namespace buttonhole
{

namespace
{

class CachedSource final : public ChangedSource
{
public:
    CachedSource(SourceRef source, StageCache &cache, int leastLevel)
        : ChangedSource(std::move(source)), m_cache(cache), m_leastLevel(leastLevel)
    {
    }
    uint64_t content() const override { return in().content(); }

    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        if (level < m_leastLevel)
            return in().readPlanes(level, out, run);
        const Rect area = out.area();
        const Rect picture = rectOf(level);
        std::vector<TileRef> tiles;
        for (int ty = area.y0 / kTileSize; ty <= (area.y1 - 1) / kTileSize; ++ty)
            for (int tx = area.x0 / kTileSize; tx <= (area.x1 - 1) / kTileSize; ++tx) {
                auto tile = find(level, tx, ty, picture, run);
                if (!tile)
                    return tile.error();
                tiles.push_back(std::move(*tile));
            }
        if (std::all_of(tiles.begin(), tiles.end(),
                        [](const TileRef &tile) { return tile->isNeutral(); }))
            out.setNeutral();
        for (const TileRef &tile : tiles)
            out.copyFrom(*tile);
        return {};
    }

private:
    using TileRef = std::shared_ptr<const LightTile>;

    Result<TileRef> find(int level, int tx, int ty, const Rect &picture, const Run &run) const
    {
        constexpr uint64_t kLight = 0x11647;
        const StageCache::Key key{joinedContent(content(), kLight), level, tx, ty};
        if (auto found = m_cache.find<LightTile>(key))
            return found;
        auto made = std::make_shared<LightTile>(tileRect(tx, ty, picture));
        if (auto done = in().readPlanes(level, *made, run); !done)
            return done.error();
        if (made->isNeutral()) { // without the room of the others
            auto one = std::make_shared<LightTile>(made->area(), 1);
            one->copyFrom(*made);
            made = std::move(one);
        }
        m_cache.put<LightTile>(key, made, made->bytes());
        return TileRef(made);
    }

    StageCache &m_cache;
    int m_leastLevel;
};

} // namespace

SourceRef cached(SourceRef source, StageCache *cache, ReadAgain again)
{
    if (!cache)
        return source;
    const auto kept = cache->isForOnePass() ? again : ReadAgain::Always;
    if (kept == ReadAgain::Never)
        return source;
    return std::make_shared<const CachedSource>(std::move(source), *cache,
                                                kept == ReadAgain::Always ? 0 : 1);
}

} // namespace buttonhole
