#pragma once

#include "colour/oklab.h"
#include "document/seen_part.h"
#include "document/take.h"

#include <optional>
#include <span>

namespace buttonhole
{

/// A way in which the colour of a keep begins: sliders that can be seen and changed afterwards.
struct LookStart {
    std::string_view id; ///< "muted"
    /// @param colour what the keep holds on average
    ColourLook (*make)(const Oklab &colour);
};

/// "plain", "muted", "bleached", "handTinted": a wash of its own mean hue, "enriched", "evened":
/// hues that stray from its mean one pulled in.
std::span<const LookStart> lookStarts();

/// What a keep holds, on average of its mask and the photo; nothing where it is empty.
std::optional<Oklab> meanColour(const PhotoLevels &levels, const Mask &mask);

/// Errors: NotFound: there is no such start or keep; InvalidArgument: the keep is empty.
Result<Take> withLookStart(Take take, const PhotoLevels &levels, uint64_t keepId,
                           std::string_view start);

Oklab oklabOfSrgb(double red, double green, double blue); ///< codes 0..1

/// The look with which a keep of that mean colour comes out as `wanted`: hue, saturation and
/// lightness; a neutral one by its tint.
ColourLook matchedLook(const Oklab &mean, const Oklab &wanted);

} // namespace buttonhole
