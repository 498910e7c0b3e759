#include "render/light_chain.h"

#include "base/each_cpu.h"
#include "light/lab_tile.h"
#include "render/cached_source.h"
#include "render/cached_tile.h"
#include "render/glow.h"
#include "render/mapped_source.h"
#include "render/mask_stage.h"
#include "render/spill.h"

#include <algorithm>
#include <utility>

namespace buttonhole
{

namespace
{

/// The colour of what is kept, by its look.
class LookSource final : public ChangedSource
{
public:
    LookSource(SourceRef before, const Keep &keep)
        : ChangedSource(std::move(before)), m_row(keep.look, in().space()),
          m_content(contentOf(keep, keepParams(), in().content(), "look."))
    {
    }
    uint64_t content() const override { return m_content; }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        if (auto done = in().read(level, out, run); !done)
            return done;
        forEachRun(out, [&](int n, float *r, float *g, float *b) { m_row.apply(n, r, g, b); });
        return {};
    }

private:
    ColourLookRow m_row;
    uint64_t m_content;
};

/// What effects read while a tile is in hand: that tile, so that what is before them is read once.
class TileInHand final : public ChangedSource
{
public:
    explicit TileInHand(SourceRef before) : ChangedSource(std::move(before)) {}
    uint64_t content() const override { return in().content(); }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        if (!s_held.tile || s_held.level != level || !contains(s_held.tile->area(), out.area()))
            return in().readPlanes(level, out, run);
        out.becomePartOf(*s_held.tile);
        return {};
    }

    struct Held {
        const LightTile *tile = nullptr;
        int level = 0;
    };
    /// Takes a tile of a level up for this thread, as long as it lives.
    class Hold
    {
    public:
        Hold(const LightTile &tile, int level) : m_before(std::exchange(s_held, {&tile, level})) {}
        Hold() : m_before(std::exchange(s_held, {})) {} ///< none
        ~Hold() { s_held = m_before; }
        Hold(const Hold &) = delete;
        Hold &operator=(const Hold &) = delete;

    private:
        Held m_before;
    };

private:
    static bool contains(const Rect &all, const Rect &part)
    {
        return intersected(all, part) == part;
    }
    static thread_local Held s_held;
};

thread_local TileInHand::Held TileInHand::s_held;

/// So wide a margin of a tile is sooner made twice than whole tiles are kept for it.
constexpr int kSmallMarginPx = 32;

/// How far round a pixel its effects read at the pixel's own level, px of the photo.
int reachOf(const LocalTone &tone)
{
    int reach = 0;
    for (const AdjustmentRef &effect : tone.effects)
        reach += effect->isOff() ? 0 : effect->readsAroundPx();
    return reach;
}

/// Untouched where there is no share, the change's own bits where all is.
BUTTONHOLE_EACH_CPU
void mixByMask(const uint16_t *share, const float *changed, int n, float *__restrict to)
{
    for (int i = 0; i < n; ++i) {
        const float mixed = to[i] + float(share[i]) * (1 / 65535.0F) * (changed[i] - to[i]);
        to[i] = share[i] == 65535 ? changed[i] : mixed;
    }
}

/// The same, of so much less as is kept.
BUTTONHOLE_EACH_CPU
void spareRow(float spared, const float *kept, const float *before, int n, float *__restrict to)
{
    for (int i = 0; i < n; ++i) {
        const float share = spared * kept[i];
        to[i] = share == 1 ? before[i] : to[i] + share * (before[i] - to[i]);
    }
}

ReadAgain readsOf(const LocalTone &tone)
{
    if (reachOf(tone) > kSmallMarginPx)
        return ReadAgain::Always;
    const auto looksFar = [](const AdjustmentRef &effect) {
        return !effect->isOff() && effect->reachPx() > effect->readsAroundPx();
    };
    return std::any_of(tone.effects.begin(), tone.effects.end(), looksFar) ? ReadAgain::OfCoarser
                                                                           : ReadAgain::Never;
}

/// The effects of a local tone where its mask lets them.
class MaskedSource final : public ChangedSource
{
public:
    MaskedSource(SourceRef before, const PhotoLevels &levels, const Take &take,
                 const LocalTone &tone, StageCache *cache)
        : ChangedSource(before), m_changed(std::make_shared<const TileInHand>(std::move(before))),
          m_levels(levels), m_take(take), m_tone(tone), m_reach(reachOf(tone)), m_cache(cache)
    {
        for (const AdjustmentRef &effect : tone.effects)
            if (!effect->isOff())
                m_changed = effect->over(std::move(m_changed));
        m_content = joinedContent(joinedContent(m_changed->content(), shapedContent(tone)),
                                  {tone.strength, float(int(tone.actsOn))});
        if (tone.actsOn != ActsOn::All)
            m_content = joinedContent(m_content, pictureContent(take));
    }
    uint64_t content() const override { return m_content; }

    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        const Rect &area = out.area();
        MaskShares mask(m_levels, m_tone, level, area, m_cache);
        if (m_tone.strength < 1)
            applyStrength(m_tone.strength, mask.own(), area.area());
        if (m_tone.actsOn != ActsOn::All)
            limit(level, area, mask.own());
        if (mask.areAll(0))
            return in().readPlanes(level, out, run);
        if (mask.areAll(65535)) {
            const TileInHand::Hold none;
            return m_changed->readPlanes(level, out, run);
        }
        return mixed(level, mask, out, run);
    }

private:
    Result<void> mixed(int level, const MaskShares &mask, LightTile &out, const Run &run) const
    {
        const Rect area = out.area();
        LightTile wide;
        if (m_reach > 0)
            wide.setArea(widenedBy(area, m_reach, level, rectOf(level)));
        LightTile &before = m_reach > 0 ? wide : out;
        if (auto done = in().readPlanes(level, before, run); !done)
            return done;
        if (m_reach > 0)
            out.becomePartOf(wide);
        const TileInHand::Hold hold(before, level);
        LightTile changed(area);
        if (auto done = m_changed->readPlanes(level, changed, run); !done)
            return done;
        if (!changed.isNeutral())
            out.spread();
        for (int y = area.y0; y < area.y1; ++y)
            for (int c = 0; c < out.planes(); ++c)
                mixByMask(mask.row(y), changed.row(c, y), area.width(), out.row(c, y));
        return {};
    }

    /// To what is kept, or what is not.
    void limit(int level, const Rect &area, uint16_t *mask) const
    {
        std::vector<uint16_t> kept(area.area(), 0);
        std::vector<uint16_t> one(area.area());
        for (const Keep &keep : m_take.keeps) {
            if (!keep.on)
                continue;
            keepMaskOver(m_levels, keep, level, area, one.data(), m_cache);
            for (size_t i = 0; i < kept.size(); ++i)
                kept[i] = std::max(kept[i], one[i]);
        }
        for (size_t i = 0; i < kept.size(); ++i) {
            const uint32_t by = m_tone.actsOn == ActsOn::Kept ? kept[i] : 65535U - kept[i];
            mask[i] = uint16_t((mask[i] * by + 32767U) / 65535U);
        }
    }

    SourceRef m_changed;
    const PhotoLevels &m_levels;
    const Take &m_take;
    const LocalTone &m_tone;
    int m_reach; ///< px of the photo that its effects look around
    StageCache *m_cache;
    uint64_t m_content = 0;
};

/// How much is kept, 0..1, in one plane.
class KeptSource final : public Source
{
public:
    KeptSource(const PhotoLevels &levels, const Take &take, const LightSpace &space,
               StageCache *cache)
        : m_levels(levels), m_take(take), m_space(space), m_cache(cache),
          m_content(joinedContent(0x6b657074, levels.content()))
    {
        for (const Keep &keep : take.keeps)
            if (keep.on)
                m_content = joinedContent(m_content, contentOf(keep));
    }
    uint64_t content() const override { return m_content; }
    const LightSpace &space() const override { return m_space; }
    Rect rectOf(int level) const override { return m_levels.rectOf(level); }
    int levelCount() const override { return m_levels.count(); }
    Result<void> fill(int level, LightTile &out, const Run &) const override
    {
        out.setNeutral();
        const Rect &area = out.area();
        std::vector<uint16_t> mask;
        for (int ty = area.y0 / kTileSize; ty <= (area.y1 - 1) / kTileSize; ++ty)
            for (int tx = area.x0 / kTileSize; tx <= (area.x1 - 1) / kTileSize; ++tx) {
                const Rect part = intersected(area, tileRect(tx, ty, rectOf(level)));
                mask.resize(part.area());
                combinedMask(m_levels, m_take, level, part, mask.data(), nullptr, m_cache);
                const uint16_t *from = mask.data();
                for (int y = part.y0; y < part.y1; ++y, from += part.width())
                    std::transform(from, from + part.width(), out.at(0, part.x0, y),
                                   [](uint16_t m) { return float(m) / 65535.0F; });
            }
        return {};
    }

private:
    const PhotoLevels &m_levels;
    const Take &m_take;
    const LightSpace &m_space;
    StageCache *m_cache;
    uint64_t m_content;
};

/// Another source's change, less of it where something is kept.
class SparingSource final : public ChangedSource
{
public:
    SparingSource(SourceRef before, SourceRef changed, SourceRef kept, float spared)
        : ChangedSource(std::move(before)), m_changed(std::move(changed)), m_kept(std::move(kept)),
          m_spared(spared)
    {
    }
    uint64_t content() const override
    {
        return joinedContent(joinedContent(m_changed->content(), m_kept->content()), {m_spared});
    }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        const Rect area = out.area();
        LightTile kept(area);
        if (auto done = m_kept->readPlanes(level, kept, run); !done)
            return done;
        const auto keeps = [&](int y) {
            return std::any_of(kept.row(0, y), kept.row(0, y) + area.width(),
                               [](float share) { return share != 0; });
        };
        if (auto done = m_changed->readPlanes(level, out, run); !done)
            return done;
        LightTile before;
        for (int y = area.y0; y < area.y1; ++y) {
            if (!keeps(y))
                continue;
            if (before.area().isEmpty()) {
                before.setArea(area);
                if (auto done = in().readPlanes(level, before, run); !done)
                    return done;
                if (!before.isNeutral())
                    out.spread();
            }
            for (int c = 0; c < out.planes(); ++c)
                spareRow(m_spared, kept.row(0, y), before.row(c, y), area.width(), out.row(c, y));
        }
        return {};
    }

private:
    SourceRef m_changed;
    SourceRef m_kept;
    float m_spared;
};

bool isAnyKept(const Take &take)
{
    return take.greyOn && std::any_of(take.keeps.begin(), take.keeps.end(),
                                      [](const Keep &keep) { return keep.on; });
}

bool acts(const AdjustmentLine &line)
{
    return line.on && line.adjustment->changesLight();
}

bool acts(const Removal &removal)
{
    return removal.on && removal.strength > 0 && removal.patch;
}

bool acts(const LocalTone &tone)
{
    return tone.on && tone.strength > 0 &&
           std::any_of(tone.effects.begin(), tone.effects.end(),
                       [](const AdjustmentRef &effect) { return !effect->isOff(); });
}

SourceRef withLines(SourceRef source, const std::vector<AdjustmentLine> &lines, StageCache *cache)
{
    for (const AdjustmentLine &line : lines)
        if (acts(line))
            source = cached(line.adjustment->over(std::move(source)), cache);
    return source;
}

/// How far all after a keep or a tone looks around, px of the photo.
int reachAfter(const Take &take, size_t firstTone)
{
    int reach = 0;
    for (size_t i = firstTone; i < take.tones.size(); ++i)
        if (acts(take.tones[i]))
            for (const AdjustmentRef &effect : take.tones[i].effects)
                reach += effect->reachPx();
    for (const AdjustmentLine &line : take.finish)
        if (acts(line))
            reach += line.adjustment->reachPx();
    return reach;
}

} // namespace

bool isPrepared(const Take &take)
{
    return std::any_of(take.removals.begin(), take.removals.end(),
                       [](const Removal &removal) { return acts(removal); }) ||
           std::any_of(take.prepare.begin(), take.prepare.end(),
                       [](const AdjustmentLine &line) { return acts(line); });
}

bool isFinished(const Take &take)
{
    return std::any_of(take.keeps.begin(), take.keeps.end(), glows) ||
           std::any_of(take.tones.begin(), take.tones.end(),
                       [](const LocalTone &tone) { return acts(tone); }) ||
           std::any_of(take.finish.begin(), take.finish.end(),
                       [](const AdjustmentLine &line) { return acts(line); });
}

SourceRef preparedSource(const PhotoLevels &levels, const Take &take, StageCache *cache)
{
    SourceRef source = std::make_shared<const PhotoSource>(levels);
    for (const Removal &removal : take.removals)
        if (acts(removal))
            source = patched(std::move(source), removal.patch, removal.strength);
    return withLines(std::move(source), take.prepare, cache);
}

SourceRef keptSource(SourceRef source, const PhotoLevels &levels, const Take &take,
                     const Keep &keep, StageCache *cache)
{
    if (take.greyOn && keep.spillShare() > 0)
        source = std::make_shared<const SpillSource>(std::move(source), levels, keep, cache);
    if (!keep.look.isOff())
        source = std::make_shared<const LookSource>(std::move(source), keep);
    return source;
}

SourceRef tonedSource(SourceRef source, const PhotoLevels &levels, const Take &take,
                      bool isReadAround, StageCache *cache)
{
    for (const Keep &keep : take.keeps)
        if (glows(keep))
            source = withGlow(cached(std::move(source), cache), levels, keep, cache);
    for (const LocalTone &tone : take.tones)
        if (acts(tone))
            source = std::make_shared<const MaskedSource>(
                cached(std::move(source), cache, readsOf(tone)), levels, take, tone, cache);
    return cached(std::move(source), cache, isReadAround ? ReadAgain::Always : ReadAgain::Never);
}

SourceRef finishedSource(SourceRef source, const PhotoLevels &levels, const PictureMap &map,
                         const Take &take, double pxPerDelivered, StageCache *cache)
{
    const bool acting = std::any_of(take.finish.begin(), take.finish.end(),
                                    [](const AdjustmentLine &line) { return acts(line); });
    const bool isMapped = !map.isExact() || (acting && !map.isPlain());
    SourceRef kept;
    if (isMapped)
        source = inPicture(std::move(source), map);
    for (const AdjustmentLine &line : take.finish) {
        if (!acts(line))
            continue;
        const float spared = isAnyKept(take) ? line.adjustment->spared() : 0;
        source = cached(std::move(source), cache,
                        spared > 0 || line.adjustment->readsAroundPx() > kSmallMarginPx
                            ? ReadAgain::Always
                            : ReadAgain::Never);
        SourceRef changed = line.adjustment->overFor(source, pxPerDelivered);
        if (spared > 0) {
            if (!kept) {
                kept = std::make_shared<const KeptSource>(levels, take, source->space(), cache);
                kept =
                    cached(isMapped ? inPicture(std::move(kept), map, 0) : std::move(kept), cache);
            }
            changed =
                std::make_shared<const SparingSource>(source, std::move(changed), kept, spared);
        }
        source = std::move(changed);
    }
    source = cached(std::move(source), cache, ReadAgain::Never);
    return isMapped && map.isExact() ? inPhoto(std::move(source), map) : source;
}

Rect reachedBy(const Take &take, const Keep &keep, const Rect &dirty, const Rect &photo)
{
    if (!keep.softBand().isNone()) // what colours say of an edge hangs on all of it round about
        return {};
    int reach = reachPx(keep) + (keep.spillShare() > 0 ? spillReachPx(keep) : 0);
    for (const Keep &each : take.keeps) // whichever gives off its light
        reach += glows(each) ? glowReachPx(each) : 0;
    return widenedBy(dirty, reach + reachAfter(take, 0), 0, photo);
}

Rect reachedBy(const Take &take, const LocalTone &tone, const Rect &dirty, const Rect &photo)
{
    if (!tone.softBand().isNone())
        return {};
    const auto at = std::find_if(take.tones.begin(), take.tones.end(),
                                 [&](const LocalTone &each) { return each.id == tone.id; });
    const auto next = size_t(at - take.tones.begin()) + 1;
    return widenedBy(dirty, reachPx(static_cast<const Mask &>(tone)) + reachAfter(take, next), 0,
                     photo);
}

Rect reachedBy(const Take &take, const MaskedLine &line, const Rect &dirty, const Rect &photo)
{
    if (const Keep *keep = take.findKeep(line.id))
        return reachedBy(take, *keep, dirty, photo);
    if (const LocalTone *tone = take.findTone(line.id))
        return reachedBy(take, *tone, dirty, photo);
    return line.softBand().isNone() ? widenedBy(dirty, reachPx(line), 0, photo) : Rect{};
}

uint64_t pictureContent(const Take &take)
{
    uint64_t content = take.greyOn ? take.grey.content() : 0;
    for (const Keep &keep : take.keeps)
        if (keep.on)
            content = joinedContent(content, contentOf(keep));
    return content;
}

} // namespace buttonhole
