#include "document/look_starts.h"

#include "colour/pixel_rows.h"
#include "colour/srgb_curve.h"
#include "light/source.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr LookStart kLookStarts[] = {
    {"plain", [](const Oklab &) { return ColourLook(); }},
    {"muted", [](const Oklab &) { return ColourLook{.saturation = 0.55F}; }},
    {"bleached",
     [](const Oklab &) {
         return ColourLook{.saturation = 0.4F, .lightness = 0.3F, .warmth = 0.1F};
     }},
    {"handTinted",
     [](const Oklab &colour) {
         return ColourLook{.saturation = 0.6F,
                           .lightness = 0.1F,
                           .tintHueDeg = float(hueDeg(colour)),
                           .tint = 0.45F};
     }},
    {"enriched",
     [](const Oklab &) { return ColourLook{.saturation = 1.35F, .lightness = -0.05F}; }},
    {"evened", [](const Oklab &colour) {
         return ColourLook{
             .stray = 0.9F, .strayHueDeg = float(hueDeg(colour)), .strayRangeDeg = 12};
     }}};

} // namespace

std::span<const LookStart> lookLookStarts()
{
    return kLookStarts;
}

std::optional<SeenPart> seenPart(const PhotoLevels &levels, const Mask &mask)
{
    constexpr int kLookEdge = 400;
    const int level = levels.levelWithin(kLookEdge);
    const Rect all = levels.rectOf(level);
    std::vector<uint16_t> shares(all.area());
    fullMask(levels, mask, level, all, shares.data());
    LightTile light(all);
    if (!PhotoSource(levels).read(level, light, {}))
        return {};
    double sums[3] = {};
    double weight = 0;
    const uint16_t *share = shares.data();
    for (int y = all.y0; y < all.y1; ++y)
        for (int x = all.x0; x < all.x1; ++x, ++share) {
            const double w = double(*share) / 65535;
            for (int c = 0; c < 3; ++c)
                sums[c] += w * double(*light.at(c, x, y));
            weight += w;
        }
    if (weight < 0.5)
        return {};
    float rgb[3][kRowRun] = {};
    for (int c = 0; c < 3; ++c)
        rgb[c][0] = float(sums[c] / weight);
    labRow(levels.colour().toLms.data(), 1, rgb[0], rgb[1], rgb[2]);
    return SeenPart{weight / double(all.area()),
                    {double(rgb[0][0]), double(rgb[1][0]), double(rgb[2][0])}};
}

std::optional<Oklab> meanColour(const PhotoLevels &levels, const Mask &mask)
{
    const auto seen = seenPart(levels, mask);
    return seen ? std::optional(seen->colour) : std::nullopt;
}

Result<Take> withLookStart(Take take, const PhotoLevels &levels, uint64_t keepId,
                           std::string_view start)
{
    const Keep *keep = take.findKeep(keepId);
    const auto row = std::find_if(std::begin(kLookStarts), std::end(kLookStarts),
                                  [&](const LookStart &each) { return each.id == start; });
    if (!keep || row == std::end(kLookStarts))
        return Error{ErrorKind::NotFound, "colour \"" + std::string(start) + "\"", {}};
    const auto colour = meanColour(levels, *keep);
    if (!colour)
        return Error{ErrorKind::InvalidArgument, keep->name, "it keeps nothing yet"};
    return withKeep(std::move(take), keepId, [&](Keep &k) { k.look = row->make(*colour); });
}

Oklab oklabOfSrgb(double red, double green, double blue)
{
    return toOklab(Profile::srgb().toXyz() *
                   Vector3{srgbLinear(red), srgbLinear(green), srgbLinear(blue)});
}

ColourLook matchedLook(const Oklab &mean, const Oklab &wanted)
{
    constexpr double kNeutral = 0.02;
    constexpr double kTintChroma = 0.15; // see ColourLookRow
    ColourLook out;
    const double own = chroma(mean);
    const double asked = chroma(wanted);
    if (own >= kNeutral && asked > 0) {
        out.hueShiftDeg = float(std::remainder(hueDeg(wanted) - hueDeg(mean), 360));
        out.saturation = float(std::clamp(asked / own, 0.0, 2.0));
    } else if (asked > 0) {
        out.tintHueDeg = float(hueDeg(wanted));
        out.tint = float(std::min(1.0, asked / kTintChroma));
    } else {
        out.saturation = 0;
    }
    // L becomes L^(2^-lightness).
    const double L = std::clamp(mean.L, 0.02, 0.98);
    const double to = std::clamp(wanted.L, 0.02, 0.98);
    out.lightness = float(std::clamp(-std::log2(std::log(to) / std::log(L)), -1.0, 1.0));
    return out;
}

} // namespace buttonhole
