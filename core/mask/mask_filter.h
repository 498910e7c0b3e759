#pragma once

#include "base/rect.h"

#include <cstdint>
#include <vector>

namespace buttonhole
{

/// A part of a mask at some pyramid level: uint16 0..65535, rows without gaps.
struct MaskPart {
    explicit MaskPart(const Rect &where) : area(where), values(where.area()) {}
    Rect area;
    std::vector<uint16_t> values;
};

/// Most px of the photo that a keep may be grown or shrunk by, and feathered.
inline constexpr float kMostGrowPx = 300;
inline constexpr float kMostFeatherPx = 500;

/// Longest speck that is dropped and longest hole that is filled, px of the photo.
inline constexpr float kMostCleanPx = 200;

/// Widest band for soft edges, px of the photo to either side.
inline constexpr float kMostSoftEdgePx = 40;

/// Drops parts of the mask whose box is at most `longestPx` on its longer side, in place. A part is
/// what holds together at a sixteenth of coverage. Within `longestPx` of the part's rim it may be
/// wrong about what goes on beyond.
void dropSpecks(MaskPart &part, int longestPx);
/// The same for what is not covered: holes with mask all round, not gaps at the photo's border.
void fillHoles(MaskPart &part, int longestPx);

/// How far around a part grow() looks, px.
int growMargin(float radiusPx);

/// The greatest value within `radiusPx` (negative: the least), in place: a disc up to 8 px, beyond
/// that an octagon, at a cost that does not depend on the radius. Between whole radii the two
/// results are mixed. Outside the part nothing is gathered.
/// Source: M. van Herk, "A fast algorithm for local minimum and maximum filters on rectangular and
/// octagonal kernels", Pattern Recognition Letters 13, 1992.
void grow(MaskPart &part, float radiusPx);

/// Gaussian of this standard deviation, in place; the part's border is repeated outwards. Integer
/// arithmetic: each pixel comes out the same in any part that holds its kernel.
void feather(MaskPart &part, float sigmaPx);
/// The same of a whole mask, far wider than its details: on fewer pixels.
void featherWide(MaskPart &part, float sigmaPx);

/// How far around a part feather() looks, px.
int featherMargin(float sigmaPx);

/// Reads a part bilinearly at a finer level, pixel centres on pixel centres; beyond its rim the
/// rim's values go on.
/// @param steps how many levels finer `area` is
/// @param out   area.area() values
void enlarge(const MaskPart &part, int steps, const Rect &area, uint16_t *out);

} // namespace buttonhole
