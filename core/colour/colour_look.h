#pragma once

#include "base/result.h"
#include "colour/matrix.h"

#include <array>
#include <cstdint>
#include <vector>

namespace buttonhole
{

struct LightSpace;

/// How what is kept in colour looks. Plain data; all of it off is the photo's own colour.
struct ColourLook {
    float hueShiftDeg = 0; ///< -180..180, turned in OKLCh
    float saturation = 1;  ///< 0..2, factor of OKLab chroma
    float lightness = 0;   ///< -1..1: L becomes L^(2^-lightness); black and white stay
    float warmth = 0;      ///< -1..1, towards amber or blue
    float tintHueDeg = 0;  ///< 0..360, OKLCh
    float tint = 0;        ///< 0..1: share of a colour of that hue, neutrals included

    float stray = 0;          ///< 0..1: so far are hues pulled in that stray
    float strayHueDeg = 0;    ///< 0..360, OKLCh: from this one of the photo's
    float strayRangeDeg = 20; ///< 0..180: farther than this

    bool isOff() const;
    friend bool operator==(const ColourLook &, const ColourLook &) = default;
};

/// A look's tables for photos of one profile.
class ColourLookRow
{
public:
    ColourLookRow(const ColourLook &look, const LightSpace &space);

    /// Changes n pixels of linear RGB of the photo's profile in place; rows padded to kRowRun. What
    /// the profile cannot hold is brought in by taking chroma; hue and lightness stay.
    void apply(int n, float *r, float *g, float *b) const;

private:
    void change(int n, float *L, float *a, float *b) const;
    void pullIn(int n, float *a, float *b) const;
    void bringIntoGamut(const float *L, const float *a, const float *b, int n, float *red,
                        float *green, float *blue) const;

    static constexpr int kSteps = 1024;
    struct Entry { ///< at one lightness
        float L = 0;
        float addA = 0;
        float addB = 0;
    };
    const LightSpace &m_space;
    std::vector<Entry> m_table;
    std::array<float, 4> m_turn{}; ///< a, b -> a, b
    float m_stray;
    float m_strayHue; ///< radians
    float m_strayRange;
    Matrix3 m_fromXyz{};
};

} // namespace buttonhole
