#pragma once

#include "document/take.h"
#include "io/photo_levels.h"

namespace buttonhole
{

/// Pairs of colours of a photo whose difference a grey should keep.
/// Source: C. Lu, L. Xu and J. Jia, "Contrast preserving decolorization", ICCP 2012.
struct ColourPairs {
    struct Pair {
        uint32_t a = 0; ///< into the colours
        uint32_t b = 0;
        float difference = 0; ///< CIE 1976 colour difference
        float weight = 0;
    };
    std::vector<float> r, g, b; ///< linear light of the photo's profile, padded for SIMD
    std::vector<float> weights; ///< of each colour, 0..1
    size_t count = 0;           ///< of colours
    std::vector<Pair> pairs;
};

/// Neighbours and random pairs of a reduced picture, always the same ones for the same picture.
/// @param take colours inside its keeps weigh little; null: all weigh the same
ColourPairs samplePairs(const PhotoLevels &levels, const Take *take);

/// CIE L* of the grey of each colour, 0..100, by base, glass, hue curve and tone curve.
std::vector<float> greyLightness(const PhotoLevels &levels, const ColourPairs &pairs,
                                 const GreyMix &mix);

/// Colour contrast preserving ratio: the share of pairs with a difference of at least tau that the
/// grey, as CIE L*, keeps at least tau apart; the mean over tau = 1..15.
/// @param lightness CIE L* of the grey of each colour, 0..100
double colourContrastRatio(const ColourPairs &pairs, const std::vector<float> &lightness);

/// CIE 1976 L* of a relative luminance.
float toCieLightness(float y);

/// The mix that best keeps this photo's colour contrasts as grey contrasts: base, hue curve and
/// tone points; the rest of `take.grey` stays. Weighted towards what lies outside the keeps.
/// A grey far from the colour's own lightness costs, so that nothing is turned over for little.
GreyMix findAutoMix(const PhotoLevels &levels, const Take &take);

} // namespace buttonhole
