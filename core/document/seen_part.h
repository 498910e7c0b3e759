#pragma once

#include "colour/oklab.h"
#include "io/photo_levels.h"
#include "mask/mask.h"

#include <array>
#include <optional>
#include <vector>

namespace buttonhole
{

/// How often colours occur, whatever light there is: OKLab's a and b by L, and of which quarter of
/// the photo's lightnesses they are.
class ColourShares
{
public:
    static constexpr int kSide = 12; ///< bins of a and of b
    static constexpr int kTones = 4;
    static constexpr size_t kCount = size_t(kSide) * kSide * kTones;

    void add(double u, double v, int tone, double weight); ///< a / L, b / L; spread to neighbours
    void finish();                                         ///< they add up to 1
    double at(double u, double v, int tone) const;
    /// 0..1: what they have in common.
    double overlap(const ColourShares &other) const;

    std::array<float, kCount> bins{};
    friend bool operator==(const ColourShares &, const ColourShares &) = default;
};

/// What a mask covers of a photo: enough to find it again on another one, and to tell whether what
/// was found is like it.
struct SeenPart {
    double share = 0; ///< 0..1: of the frame
    Oklab colour;     ///< mean of linear light
    double x0 = 0;    ///< where, in shares of the frame
    double y0 = 0;
    double x1 = 1;
    double y1 = 1;
    ColourShares inside;
    ColourShares outside;
};

/// Nothing where the mask is empty.
std::optional<SeenPart> seenPart(const PhotoLevels &levels, const Mask &mask);

/// How alike two parts of photos are, 0..1: by their colours in any light, and by their shares of
/// the frame.
float likeness(const SeenPart &a, const SeenPart &b);

/// Where on a photo something of those colours and about that size lies, px of the photo, the best
/// first: boxes of its shape that gather most of what speaks for it, less what speaks against it
/// (after M. Swain, D. Ballard, "Color indexing", 1991). None where nothing speaks for it.
std::vector<Rect> findAgain(const PhotoLevels &levels, const SeenPart &part, size_t most = 1);

} // namespace buttonhole
