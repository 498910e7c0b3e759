#include "document/tone_starts.h"

#include "light/fine_light.h"
#include "light/local_effects.h"
#include "light/photo_light.h"
#include "light/point_curve.h"
#include "mask/fade_step.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

/// A line with a slider for everything that a local tone does.
LocalTone toneOf(const PhotoLight &light = {}, const Texture &texture = {})
{
    LocalTone out;
    out.effects = {std::make_shared<const NumberAdjustment<PhotoLight>>(light),
                   std::make_shared<const NumberAdjustment<PointCurve>>(),
                   std::make_shared<const NumberAdjustment<Texture>>(texture),
                   std::make_shared<const NumberAdjustment<Sharpness>>(),
                   std::make_shared<const NumberAdjustment<Blur>>(),
                   std::make_shared<const NumberAdjustment<Fog>>()};
    return out;
}

LocalTone everywhere(LocalTone tone)
{
    tone.invert = true; // everything but nothing
    return tone;
}

LocalTone within(LocalTone tone, const Keep &keep, bool isOutside)
{
    static_cast<Mask &>(tone) = keep;
    tone.invert = keep.invert != isOutside;
    std::erase_if(tone.steps, [](const Step &step) { return step.sign == Sign::Spill; });
    return tone;
}

/// Where a keep's mask is more than half, px of the photo.
Rect boundsOf(const PhotoLevels &levels, const Keep &keep)
{
    constexpr int kLookEdge = 400;
    const int level = levels.levelWithin(kLookEdge);
    const Rect all = levels.rectOf(level);
    std::vector<uint16_t> mask(all.area());
    fullMask(levels, keep, level, all, mask.data());
    Rect out;
    for (int y = 0; y < all.y1; ++y)
        for (int x = 0; x < all.x1; ++x)
            if (mask[size_t(y) * size_t(all.width()) + size_t(x)] > 0x7fff)
                out = united(out, {x, y, x + 1, y + 1});
    return {out.x0 << level, out.y0 << level, out.x1 << level, out.y1 << level};
}

std::vector<LocalTone> makeSpotlight(const PhotoLevels &levels, const Keep *keep)
{
    Rect box = boundsOf(levels, *keep);
    if (box.isEmpty())
        box = levels.photo().rect();
    // An ellipse round the box, with room for the fade: more than a flat thing needs, light is
    // round.
    constexpr float kRoom = 1.4F;
    constexpr float kMore = 0.15F; // of the longer side
    const float more = kMore * float(std::max(box.width(), box.height()));
    const float across = kRoom * float(box.width()) / 2 + more;
    const float upright = kRoom * float(box.height()) / 2 + more;
    Fade fade;
    fade.isRound = true;
    fade.from = {float(box.x0 + box.x1) / 2, float(box.y0 + box.y1) / 2};
    fade.to = {fade.from.x + across, fade.from.y};
    fade.ratio = std::clamp(upright / across, 0.05F, 20.0F);
    fade.feather = 0.6F;
    const Step step{0, Sign::Add, true, std::make_shared<const FadeStep>(fade)};
    PhotoLight up;
    up.exposureEv = 0.35F;
    PhotoLight down;
    down.exposureEv = -0.8F;
    LocalTone lifted = toneOf(up);
    lifted.name = "Spotlight";
    lifted.steps = {step};
    LocalTone settled = toneOf(down);
    settled.name = "Round it";
    settled.steps = {step};
    settled.invert = true;
    return {lifted, settled};
}

std::vector<LocalTone> makeSettled(const PhotoLevels &, const Keep *keep)
{
    PhotoLight light;
    light.exposureEv = -0.5F;
    light.contrast = -0.25F;
    light.holdHighlights = 0.3F;
    Texture texture;
    texture.fine = -0.2F;
    LocalTone out = within(toneOf(light, texture), *keep, true);
    out.name = "Background";
    return {out};
}

std::vector<LocalTone> makeBite(const PhotoLevels &, const Keep *)
{
    Texture texture;
    texture.fine = 0.5F;
    texture.coarse = 0.25F;
    LocalTone out = everywhere(toneOf({}, texture));
    out.name = "Bite";
    return {out};
}

/// From the top border down to its middle, the upper half at most.
std::vector<LocalTone> makeCalm(const PhotoLevels &levels, const Keep *)
{
    const auto [width, height] =
        std::pair(float(levels.photo().width), float(levels.photo().height));
    Fade fade;
    fade.from = {width / 2, 0.15F * height};
    fade.to = {width / 2, 0.55F * height};
    PhotoLight light;
    light.exposureEv = -0.3F;
    light.holdHighlights = 0.5F;
    Texture texture;
    texture.fine = -0.5F;
    texture.coarse = -0.3F;
    LocalTone out = toneOf(light, texture);
    out.name = "Sky";
    out.steps = {{0, Sign::Add, true, std::make_shared<const FadeStep>(fade)}};
    return {out};
}

std::vector<LocalTone> makeBrushed(const char *name, float exposureEv)
{
    PhotoLight light;
    light.exposureEv = exposureEv;
    LocalTone out = toneOf(light);
    out.name = name;
    return {out};
}

constexpr ToneStart kToneStarts[] = {
    {"empty", false,
     [](const PhotoLevels &, const Keep *) { return std::vector<LocalTone>{toneOf()}; }},
    {"everything", false,
     [](const PhotoLevels &, const Keep *) {
         return std::vector<LocalTone>{everywhere(toneOf())};
     }},
    {"inside", true,
     [](const PhotoLevels &, const Keep *keep) {
         return std::vector<LocalTone>{within(toneOf(), *keep, false)};
     }},
    {"outside", true,
     [](const PhotoLevels &, const Keep *keep) {
         return std::vector<LocalTone>{within(toneOf(), *keep, true)};
     }},
    {"spotlight", true, makeSpotlight},
    {"settle", true, makeSettled},
    {"calm", false, makeCalm},
    {"bite", false, makeBite},
    {"dodge", false, [](const PhotoLevels &, const Keep *) { return makeBrushed("Dodge", 1); }},
    {"burn", false, [](const PhotoLevels &, const Keep *) { return makeBrushed("Burn", -1); }}};

} // namespace

std::span<const ToneStart> toneStarts()
{
    return kToneStarts;
}

Result<Take> withToneStart(Take take, const PhotoLevels &levels, std::string_view start,
                           const Keep *keep, uint64_t *last)
{
    std::string known;
    for (const ToneStart &each : kToneStarts) {
        known += (known.empty() ? "" : ", ") + std::string(each.id);
        if (each.id != start)
            continue;
        if (each.needsKeep && !keep)
            return Error{ErrorKind::NotFound, "local tone \"" + std::string(start) + "\"",
                         "it goes by a keep: name one"};
        for (LocalTone &tone : each.make(levels, keep)) {
            const auto isTaken = [&](const LocalTone &other) { return other.name == tone.name; };
            const std::string base = tone.name;
            for (int n = 2; std::any_of(take.tones.begin(), take.tones.end(), isTaken); ++n)
                tone.name = base + " " + std::to_string(n);
            take = withNewTone(std::move(take), std::move(tone), last);
        }
        return take;
    }
    return Error{ErrorKind::NotFound, "local tone \"" + std::string(start) + "\"",
                 "there are: " + known};
}

} // namespace buttonhole
