#include "render/cached_source.h"

#include "render/cached_tile.h"

namespace buttonhole
{

namespace
{

class CachedSource final : public ChangedSource
{
public:
    CachedSource(SourceRef source, StageCache &cache)
        : ChangedSource(std::move(source)), m_cache(cache)
    {
    }
    uint64_t content() const override { return in().content(); }

    Result<void> read(int level, LightTile &out, const Run &run) const override
    {
        const Rect area = out.area();
        const Rect picture = rectOf(level);
        for (int ty = area.y0 / kTileSize; ty <= (area.y1 - 1) / kTileSize; ++ty)
            for (int tx = area.x0 / kTileSize; tx <= (area.x1 - 1) / kTileSize; ++tx) {
                const auto tile = find(level, tx, ty, picture, run);
                if (!tile)
                    return tile.error();
                out.copyFrom(**tile);
            }
        return {};
    }

private:
    Result<std::shared_ptr<const LightTile>> find(int level, int tx, int ty, const Rect &picture,
                                                  const Run &run) const
    {
        constexpr uint64_t kLight = 0x11647;
        const StageCache::Key key{joinedContent(content(), kLight), level, tx, ty};
        if (auto found = m_cache.find<LightTile>(key))
            return found;
        const auto made = std::make_shared<LightTile>(tileRect(tx, ty, picture));
        if (auto done = in().read(level, *made, run); !done)
            return done.error();
        m_cache.put<LightTile>(key, made, made->bytes());
        return std::shared_ptr<const LightTile>(made);
    }

    StageCache &m_cache;
};

} // namespace

SourceRef cached(SourceRef source, StageCache *cache, bool isReadAgain)
{
    return cache && (isReadAgain || !cache->isForOnePass())
               ? std::make_shared<const CachedSource>(std::move(source), *cache)
               : source;
}

} // namespace buttonhole
