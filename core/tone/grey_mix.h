#pragma once

#include "colour/pixel_rows.h"

namespace buttonhole
{

/// How colours become greys. Everything that decides the grey of a pixel belongs in here, so that
/// the renderer, Auto and the on-picture drag share one definition.
struct GreyMix {
    enum class Base { Luminance } base = Base::Luminance; ///< CIE Y of linear light
    friend bool operator==(const GreyMix &, const GreyMix &) = default;
    /// Equal for equal mixes.
    uint64_t content() const { return uint64_t(base); }
};

/// A GreyMix made ready for one photo: what it needs of tables is computed here once.
class GreyMixer
{
public:
    GreyMixer(const GreyMix &mix, const SourceColour &colour);

    /// Linear grey of a run of interleaved RGB codes (8 or 16 bits, as the photo's).
    /// @param rgb n x 3 codes in the photo's profile, n <= kRowRun
    /// @param y   n values, linear, >= 0, 1 = white; neutral input keeps its value exactly
    /// Source: CIE 015:2018, Y as the profile's weighted sum of linear RGB.
    template <class T>
    void greyRow(const T *rgb, int n, float *y) const
    {
        luminanceRow(m_colour, rgb, n, y);
    }

private:
    const SourceColour &m_colour;
};

inline GreyMixer::GreyMixer(const GreyMix &, const SourceColour &colour) : m_colour(colour) {}

} // namespace buttonhole
