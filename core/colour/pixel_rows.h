#pragma once

#include "base/content.h"
#include "colour/profile.h"

#include <array>
#include <cstdint>

namespace buttonhole
{

/// Longest run of pixels the row functions are called with: their scratch arrays stay in L1.
inline constexpr int kRowRun = 256;

/// What linear red, green and blue mean.
struct LightSpace {
    explicit LightSpace(const Profile &profile);

    std::array<float, 9> toLms{};   ///< linear RGB -> OKLab cones, row-major
    std::array<float, 9> fromLms{}; ///< and back
    Profile profile;
};

/// What a photo's pixels mean: per-channel curves at the photo's own depth. Built once per photo
/// and profile.
struct SourceColour : LightSpace {
    SourceColour(const Profile &profile, int bitDepth);

    std::array<std::vector<float>, 3> toLinear;  ///< 256 or 65536 entries: code -> linear 0..1
    std::array<std::vector<float>, 3> luminance; ///< the same times the channel's share of CIE Y
};

/// Where pixels go: a profile's inverse curves.
struct OutputColour : LightSpace {
    explicit OutputColour(const Profile &profile);

    bool curvesAreEqual = false;
    uint64_t content = newContent();
};

/// Linear light of a run of interleaved RGB codes. n <= kRowRun.
template <class T>
void decodeRow(const SourceColour &colour, const T *rgb, int n, float *r, float *g, float *b);

/// CIE luminance Y of a run of interleaved RGB codes.
template <class T>
void luminanceRow(const SourceColour &colour, const T *rgb, int n, float *y);

/// A 3 x 3 matrix over planar rows, in place.
void matrixRow(const float *matrix, int n, float *r, float *g, float *b);

/// Linear RGB to OKLab (L, a, b in the place of r, g, b) and back; rows padded to kRowRun.
/// Accuracy: within 2e-6 of double precision.
void labRow(const float *toLms, int n, float *r, float *g, float *b);
void linearOfLabRow(const float *fromLms, int n, float *L, float *a, float *b);

/// The same, exact for what is neutral: r = g = b have a = b = 0, and the other way round; their L
/// is neutralLabRow()'s, so that one plane stands for three.
void exactLabRow(const float *toLms, int n, float *r, float *g, float *b);
void linearOfExactLabRow(const float *fromLms, int n, float *L, float *a, float *b);

/// Neutral light, of which there is one plane, to L and back, in place; rows padded to kRowRun.
void neutralLabRow(int n, float *light);
void linearOfNeutralLabRow(int n, float *L);

/// Blends a neutral of luminance y with a colour, in OKLab:
/// out = (1 - m) * Oklab(y, y, y) + m * Oklab(r, g, b), as linear RGB of the output profile.
/// @param toLms, fromLms row-major 3 x 3, see SourceColour and OutputColour
/// @param y     linear luminance >= 0 of the grey
/// @param mask  share of colour, uint16 0..65535
/// @param r,g,b linear source RGB in, linear output RGB out; may leave 0..1 (out of gamut)
/// Accuracy: within 2e-6 of double precision, tested; below half a step at 16 bits.
/// Source: OKLab (see colour/oklab.h); cube root by two Halley steps.
void blendRow(const float *toLms, const float *fromLms, const float *y, const uint16_t *mask, int n,
              float *r, float *g, float *b);

/// Encodes one channel: linear (clamped to 0..1; NaN becomes 0) -> codes 0..255 or 0..65535.
/// @param bits 8 or 16
/// Accuracy: within 0.5 + 0.03 of a code at 16 bits, 0.5 + 0.01 at 8, for sRGB.
void encodeRow(const Profile &profile, size_t channel, int bits, const float *linear, int n,
               uint16_t *codes);

/// Linear (clamped to 0..1) as 16-bit square roots, 65535 = 1: what 8-bit codes are looked up by,
/// fine enough to work on from. encodeRow() at 8 bits is rootRow(), then encodeRoots().
void rootRow(const float *linear, int n, uint16_t *roots);
void encodeRoots(const Profile &profile, size_t channel, const uint16_t *roots, int n,
                 uint16_t *codes);
void linearOfRoots(const uint16_t *roots, int n, float *linear);

/// Three rows of codes to RGB pixels: n x 3 of uint8 (codes at most 255) or uint16.
void interleaveRow(const uint16_t *r, const uint16_t *g, const uint16_t *b, int n, uint8_t *out);
void interleaveRow(const uint16_t *r, const uint16_t *g, const uint16_t *b, int n, uint16_t *out);

} // namespace buttonhole
