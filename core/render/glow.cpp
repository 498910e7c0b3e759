#include "render/glow.h"

#include "colour/pixel_rows.h"
#include "light/local_effects.h"
#include "render/cached_source.h"
#include "render/mask_stage.h"

#include <cmath>
#include <numbers>

namespace buttonhole
{

namespace
{

/// What a keep gives off: its light, or that of a colour, as far as its mask covers.
class LitSource final : public ChangedSource
{
public:
    LitSource(SourceRef picture, const PhotoLevels &levels, const Keep &keep, StageCache *cache)
        : ChangedSource(std::move(picture)), m_levels(levels), m_keep(keep), m_cache(cache)
    {
        constexpr float kL = 0.8F;
        constexpr float kChroma = 0.12F;
        const float hue = keep.glow.hueDeg * std::numbers::pi_v<float> / 180;
        float lab[3][kRowRun] = {};
        lab[0][0] = kL;
        lab[1][0] = kChroma * std::cos(hue);
        lab[2][0] = kChroma * std::sin(hue);
        linearOfLabRow(in().space().fromLms.data(), 1, lab[0], lab[1], lab[2]);
        for (size_t c = 0; c < 3; ++c)
            m_colour[c] = std::max(lab[c][0], 0.0F);
    }
    uint64_t content() const override
    {
        constexpr uint64_t kLit = 0x6c6974;
        return joinedContent(joinedContent(in().content(), contentOf(m_keep)), kLit);
    }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        const Rect &area = out.area();
        std::vector<uint16_t> mask(area.area());
        keepMaskOver(m_levels, m_keep, level, area, mask.data(), m_cache);
        const float own = m_keep.glow.ownColour;
        if (own > 0)
            if (auto done = in().read(level, out, run); !done)
                return done;
        const uint16_t *share = mask.data();
        for (int y = area.y0; y < area.y1; ++y, share += area.width())
            for (size_t c = 0; c < 3; ++c) {
                float *to = out.row(int(c), y);
                for (int i = 0; i < area.width(); ++i) {
                    const float light = own > 0 ? own * std::max(to[i], 0.0F) : 0;
                    to[i] = float(share[i]) / 65535 * (light + (1 - own) * m_colour[c]);
                }
            }
        return {};
    }

private:
    const PhotoLevels &m_levels;
    const Keep &m_keep;
    StageCache *m_cache;
    std::array<float, 3> m_colour{};
};

class GlowSource final : public ChangedSource
{
public:
    GlowSource(SourceRef picture, SourceRef spread, const PhotoLevels &levels, const Keep &keep,
               StageCache *cache)
        : ChangedSource(std::move(picture)), m_spread(std::move(spread)), m_levels(levels),
          m_keep(keep), m_cache(cache)
    {
    }
    uint64_t content() const override
    {
        return joinedContent(m_spread->content(), {m_keep.glow.strength, m_keep.glow.lightens});
    }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        if (auto done = in().read(level, out, run); !done)
            return done;
        const Rect area = out.area();
        LightTile light(area);
        if (auto done = m_spread->read(level, light, run); !done)
            return done;
        std::vector<uint16_t> mask(area.area());
        keepMaskOver(m_levels, m_keep, level, area, mask.data(), m_cache);
        const uint16_t *share = mask.data();
        for (int y = area.y0; y < area.y1; ++y, share += area.width())
            for (int c = 0; c < 3; ++c)
                add(light.row(c, y), share, area.width(), out.row(c, y));
        return {};
    }

private:
    void add(const float *light, const uint16_t *share, int n, float *to) const
    {
        for (int i = 0; i < n; ++i) {
            const float behind = float(65535 - share[i]) / 65535;
            const float lit = std::min(m_keep.glow.strength * light[i], 1.0F) * behind;
            if (lit <= 0)
                continue;
            const float screened = to[i] + lit * std::max(1 - to[i], 0.0F);
            const float lightened = std::max(to[i], lit);
            to[i] = screened + m_keep.glow.lightens * (lightened - screened);
        }
    }
    SourceRef m_spread;
    const PhotoLevels &m_levels;
    const Keep &m_keep;
    StageCache *m_cache;
};

Blur spreadOf(const Keep &keep)
{
    return {.radiusPx = keep.glow.sizePx};
}

} // namespace

bool glows(const Keep &keep)
{
    return keep.on && keep.glow.strength > 0 && keep.strength > 0;
}

int glowReachPx(const Keep &keep)
{
    return spreadOf(keep).reachPx();
}

SourceRef withGlow(SourceRef picture, const PhotoLevels &levels, const Keep &keep,
                   StageCache *cache)
{
    const NumberAdjustment<Blur> spread(spreadOf(keep));
    SourceRef lit = spread.over(std::make_shared<const LitSource>(picture, levels, keep, cache));
    return cached(
        std::make_shared<const GlowSource>(std::move(picture), std::move(lit), levels, keep, cache),
        cache);
}

} // namespace buttonhole
