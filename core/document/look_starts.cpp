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
