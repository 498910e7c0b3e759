#pragma once

#include "colour/pixel_rows.h"
#include "tone/detail_plane.h"
#include "tone/grey_rows.h"

#include <memory>

namespace buttonhole
{

/// What local contrast is measured against; null where the mix does not ask for it.
struct DetailPlanes {
    std::shared_ptr<const DetailPlane> local;
    std::shared_ptr<const DetailPlane> fine;
};

/// Where a run of pixels lies: pixels of a pyramid level.
struct RowPlace {
    int x = 0;
    int y = 0;
    int level = 0;
};

/// A GreyMix made ready for one photo: what it needs of tables is computed here once.
class GreyMixer
{
public:
    /// @param planes for mixes with local contrast; without, that is left out
    GreyMixer(const GreyMix &mix, const SourceColour &colour, DetailPlanes planes = {},
              uint64_t greyContent = 0);

    /// Equal for equal greys: the mix's, unless another was given.
    uint64_t greyContent() const { return m_greyContent; }

    /// Linear grey of a run of interleaved RGB codes (8 or 16 bits, as the photo's).
    /// @param rgb n x 3 codes in the photo's profile, n <= kRowRun
    /// @param y   n values, linear, >= 0, 1 = white; for Base::Luminance neutral input keeps its
    ///            value exactly, for the others within 1e-6
    template <class T>
    void greyRow(const T *rgb, int n, const RowPlace &place, float *y) const;
    /// The same of linear light in the photo's profile.
    void greyRow(const float *r, const float *g, const float *b, int n, const RowPlace &place,
                 float *y) const;

    /// Grey before local contrast and tone, from linear RGB: what a DetailPlane is made from.
    void colourGreyRow(float *r, float *g, float *b, int n, float *y) const;

    const GreyMix &mix() const { return m_mix; }
    bool isTinted() const { return m_isTinted; }
    /// What tintedBlendRow() needs, for this output.
    TintedBlend tintedBlend(const OutputColour &output) const;

private:
    template <class Luminance>
    void mixedRow(float *r, float *g, float *b, int n, const RowPlace &place, float *y,
                  const Luminance &luminance) const;
    void toneRow(const RowPlace &place, int n, float *t) const;

    GreyMix m_mix;
    const SourceColour &m_colour;
    DetailPlanes m_planes;
    uint64_t m_greyContent;
    bool m_isPlain;
    bool m_isTinted;
    bool m_hasGlass = false;
    std::array<float, 9> m_glass{}; ///< linear RGB through the glass
    std::array<float, 3> m_weights{};
    std::vector<float> m_hueGain; ///< empty: no hue curve
    std::vector<float> m_tone;    ///< empty: tones stay
    std::vector<float> m_toning[3];
};

/// Octaves of light that +-100 of the hue curve lifts or lowers a fully coloured pixel by.
inline constexpr double kHueOctaves = 1.6;

} // namespace buttonhole
