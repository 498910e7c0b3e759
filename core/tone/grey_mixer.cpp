#include "tone/grey_mixer.h"

#include "colour/oklab.h"
#include "tone/hue_curve.h"
#include "tone/lens_glass.h"
#include "tone/tone_curve.h"
#include "tone/toning_curve.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace buttonhole
{

namespace
{

constexpr int kPadded = kRowRun + 64; // room for one SIMD vector past the end

std::vector<float> makeHueGain(const std::vector<HuePoint> &points)
{
    const HueCurve curve(points);
    std::vector<float> gain(kHueSteps + 2);
    for (int i = 0; i < kHueSteps + 2; ++i) {
        // The table's axis is b / (|a| + |b|) from quadrant to quadrant (see hueRow()).
        const double turn = std::fmod(double(i) / (kHueSteps / 4), 4.0);
        const double part = turn - std::floor(turn);
        const double within = std::atan2(part, 1 - part) * 180 / std::numbers::pi;
        const double hueDeg = 90 * std::floor(turn) + within;
        gain[size_t(i)] = float(std::exp2(kHueOctaves * curve.value(hueDeg) / 100) - 1);
    }
    return gain;
}

Vector3 weightsOf(const GreyMix &mix, const SourceColour &colour)
{
    switch (mix.base) {
    case GreyMix::Base::Luminance:
        return colour.profile.toXyz()[1];
    case GreyMix::Base::Blend: {
        const auto blend = effectiveBlend(mix);
        return {blend[0], blend[1], blend[2]};
    }
    default:
        return {1 / 3.0, 1 / 3.0, 1 / 3.0};
    }
}

/// What the base alone makes of a colour: the glass is exposed so that white stays white.
double baseOf(const GreyMix &mix, const SourceColour &colour, const Vector3 &rgb)
{
    if (mix.base == GreyMix::Base::Extremes)
        return (std::max({rgb[0], rgb[1], rgb[2]}) + std::min({rgb[0], rgb[1], rgb[2]})) / 2;
    if (mix.base == GreyMix::Base::Lightness)
        return std::pow(toOklab(colour.profile.toXyz() * rgb).L, 3);
    const Vector3 w = weightsOf(mix, colour);
    return w[0] * rgb[0] + w[1] * rgb[1] + w[2] * rgb[2];
}

} // namespace

GreyMixer::GreyMixer(const GreyMix &mix, const SourceColour &colour, DetailPlanes planes,
                     uint64_t greyContent)
    : m_mix(mix), m_colour(colour), m_planes(std::move(planes)),
      m_greyContent(greyContent == 0 ? mix.greyContent() : greyContent), m_isPlain(mix.isPlain()),
      m_isTinted(mix.isTinted())
{
    if (m_isTinted) {
        Toning toning = mix.toning;
        toning.shadowSaturation *= mix.strength;
        toning.highlightSaturation *= mix.strength;
        ToningCurve curve = makeToningCurve(toning);
        m_toning[0] = std::move(curve.L);
        m_toning[1] = std::move(curve.a);
        m_toning[2] = std::move(curve.b);
    }
    const Vector3 weights = weightsOf(mix, colour);
    if (mix.glass != Glass::None && mix.glassStrength > 0) {
        m_hasGlass = true;
        Matrix3 glass = glassMatrix(mix.glass, mix.glassStrength, colour.profile.toXyz());
        const double white = baseOf(mix, colour, glass * Vector3{1, 1, 1});
        const double scale = std::abs(white) > 1e-3 ? 1 / white : 1;
        for (size_t i = 0; i < 9; ++i)
            m_glass[i] = float(scale * glass[i / 3][i % 3]);
    }
    const bool isWeighted =
        mix.base != GreyMix::Base::Extremes && mix.base != GreyMix::Base::Lightness;
    for (size_t c = 0; c < 3; ++c)
        m_weights[c] = isWeighted ? float(weights[c]) : 1.0F;
    if (std::any_of(mix.hue.begin(), mix.hue.end(), [](const auto &p) { return p.value != 0; }))
        m_hueGain = makeHueGain(mix.hue);
    if (!mix.tone.isPlainCurve())
        m_tone = makeToneCurve(mix.tone);
}

void GreyMixer::colourGreyRow(float *r, float *g, float *b, int n, float *y) const
{
    const float *toLms = m_colour.toLms.data();
    if (!m_hasGlass) {
        baseRow(m_mix.base, m_weights.data(), toLms, r, g, b, n, y);
        if (!m_hueGain.empty())
            hueRow(toLms, m_hueGain.data(), r, g, b, n, y);
        return;
    }
    // The hue curve goes by the photo's own hues, not by those behind the glass.
    alignas(64) float behind[3][kPadded];
    std::copy_n(r, n, behind[0]);
    std::copy_n(g, n, behind[1]);
    std::copy_n(b, n, behind[2]);
    matrixRow(m_glass.data(), n, behind[0], behind[1], behind[2]);
    baseRow(m_mix.base, m_weights.data(), toLms, behind[0], behind[1], behind[2], n, y);
    if (!m_hueGain.empty())
        hueRow(toLms, m_hueGain.data(), r, g, b, n, y);
}

void GreyMixer::toneRow(const RowPlace &place, int n, float *t) const
{
    const std::pair<const DetailPlane *, float> parts[] = {{m_planes.local.get(), m_mix.tone.local},
                                                           {m_planes.fine.get(), m_mix.tone.fine}};
    alignas(64) float before[kPadded];
    if (m_mix.hasMargin())
        std::copy_n(t, n, before);
    for (const auto &[plane, amount] : parts) {
        if (!plane || amount == 0)
            continue;
        alignas(64) float a[kPadded];
        alignas(64) float b[kPadded];
        alignas(64) float changed[kPadded];
        plane->readRow(place.x, place.y, place.level, n, a, b);
        // Both are shares of the grey before either, so that their order does not count.
        std::copy_n(before, n, changed);
        detailRow(amount / 100, a, b, n, changed);
        for (int i = 0; i < n; ++i)
            t[i] = std::max(t[i] + changed[i] - before[i], 0.0F);
    }
    if (!m_tone.empty())
        tableRow(m_tone.data(), kToneSteps, n, t);
}

template <class Luminance>
void GreyMixer::mixedRow(float *r, float *g, float *b, int n, const RowPlace &place, float *y,
                         const Luminance &luminance) const
{
    if (m_mix.base == GreyMix::Base::Luminance && !m_hasGlass) {
        luminance(y);
        if (!m_hueGain.empty())
            hueRow(m_colour.toLms.data(), m_hueGain.data(), r, g, b, n, y);
    } else {
        colourGreyRow(r, g, b, n, y);
    }
    const bool isMixed = m_mix.strength < 1;
    if (m_tone.empty() && !m_mix.hasMargin() && !isMixed)
        return;
    lightnessRow(y, n, y);
    toneRow(place, n, y);
    if (isMixed) {
        alignas(64) float plain[kPadded];
        luminance(plain);
        lightnessRow(plain, n, plain);
        mixRow(m_mix.strength, plain, n, y);
    }
    linearRow(y, n, y);
}

template <class T>
void GreyMixer::greyRow(const T *rgb, int n, const RowPlace &place, float *y) const
{
    const auto luminance = [&](float *out) { luminanceRow(m_colour, rgb, n, out); };
    if (m_isPlain)
        return luminance(y);
    alignas(64) float r[kPadded];
    alignas(64) float g[kPadded];
    alignas(64) float b[kPadded];
    decodeRow(m_colour, rgb, n, r, g, b);
    mixedRow(r, g, b, n, place, y, luminance);
}

void GreyMixer::greyRow(const float *r, const float *g, const float *b, int n,
                        const RowPlace &place, float *y) const
{
    const Vector3 &shares = m_colour.profile.toXyz()[1];
    const auto luminance = [&](float *out) {
        for (int i = 0; i < n; ++i) // negative where light leaves the photo's gamut
            out[i] = std::max(0.0F, float(shares[0]) * r[i] + float(shares[1]) * g[i] +
                                        float(shares[2]) * b[i]);
    };
    if (m_isPlain)
        return luminance(y);
    alignas(64) float own[3][kPadded];
    std::copy_n(r, n, own[0]);
    std::copy_n(g, n, own[1]);
    std::copy_n(b, n, own[2]);
    mixedRow(own[0], own[1], own[2], n, place, y, luminance);
}

template void GreyMixer::greyRow(const uint8_t *, int, const RowPlace &, float *) const;
template void GreyMixer::greyRow(const uint16_t *, int, const RowPlace &, float *) const;

TintedBlend GreyMixer::tintedBlend(const OutputColour &output) const
{
    TintedBlend out;
    out.toLms = m_colour.toLms.data();
    out.fromLms = output.fromLms.data();
    out.toningL = m_toning[0].data();
    out.toningA = m_toning[1].data();
    out.toningB = m_toning[2].data();
    out.colourLeft = m_mix.colourLeft;
    out.overKeeps = m_mix.toning.overKeeps;
    return out;
}

} // namespace buttonhole
