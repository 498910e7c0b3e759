#include "colour/colour_look.h"

#include "colour/oklab.h"
#include "colour/pixel_rows.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace buttonhole
{

namespace
{

constexpr double kRadPerDeg = 3.14159265358979323846 / 180.0;

} // namespace

bool ColourLook::isOff() const
{
    return hueShiftDeg == 0 && saturation == 1 && lightness == 0 && warmth == 0 && tint == 0 &&
           stray == 0;
}

ColourLookRow::ColourLookRow(const ColourLook &look, const LightSpace &space)
    : m_space(space), m_stray(look.stray), m_strayHue(float(double(look.strayHueDeg) * kRadPerDeg)),
      m_strayRange(float(double(look.strayRangeDeg) * kRadPerDeg))
{
    const double turn = double(look.hueShiftDeg) * kRadPerDeg;
    const double scale = look.saturation * (1 - look.tint);
    m_turn = {float(scale * std::cos(turn)), float(-scale * std::sin(turn)),
              float(scale * std::sin(turn)), float(scale * std::cos(turn))};
    // Daylight runs from amber to blue at about this hue; black takes no colour.
    constexpr double kAmberDeg = 72;
    constexpr double kMostWarmth = 0.09;
    constexpr double kTintChroma = 0.15;
    m_table.resize(kSteps + 2);
    for (int i = 0; i < kSteps + 2; ++i) {
        const double t = std::min(double(i) / kSteps, 1.0);
        const double L = std::pow(t, std::exp2(-double(look.lightness)));
        // White and black have no room for chroma.
        const double room = std::min(1.0, 4 * L * (1.05 - L));
        const double warm =
            double(look.warmth) * kMostWarmth * double(1 - look.tint) * std::min(1.0, L * 1.5);
        const double tint = double(look.tint) * kTintChroma * std::max(room, 0.0);
        m_table[size_t(i)] = {float(L),
                              float(warm * std::cos(kAmberDeg * kRadPerDeg) +
                                    tint * std::cos(double(look.tintHueDeg) * kRadPerDeg)),
                              float(warm * std::sin(kAmberDeg * kRadPerDeg) +
                                    tint * std::sin(double(look.tintHueDeg) * kRadPerDeg))};
    }
    m_fromXyz = inverse(space.profile.toXyz());
}

/// Hues farther from a chosen one than the range, by their share; chroma stays.
void ColourLookRow::pullIn(int n, float *a, float *b) const
{
    constexpr float kTurn = 2 * std::numbers::pi_v<float>;
    for (int i = 0; i < n; ++i) {
        const float chroma = std::hypot(a[i], b[i]);
        const float away = std::remainder(std::atan2(b[i], a[i]) - m_strayHue, kTurn);
        const float beyond = std::abs(away) - m_strayRange;
        if (beyond <= 0)
            continue;
        const float hue = m_strayHue + std::copysign(m_strayRange + (1 - m_stray) * beyond, away);
        a[i] = chroma * std::cos(hue);
        b[i] = chroma * std::sin(hue);
    }
}

void ColourLookRow::change(int n, float *L, float *a, float *b) const
{
    if (m_stray > 0)
        pullIn(n, a, b);
    for (int i = 0; i < n; ++i) {
        const float at = std::clamp(L[i], 0.0F, 1.0F) * float(kSteps);
        const int below = int(at);
        const float part = at - float(below);
        const Entry &lo = m_table[size_t(below)];
        const Entry &hi = m_table[size_t(below) + 1];
        const float above = std::max(L[i] - 1, 0.0F); // brighter than white goes on as it is
        const float a0 = a[i];
        const float b0 = b[i];
        L[i] = lo.L + part * (hi.L - lo.L) + above;
        a[i] = m_turn[0] * a0 + m_turn[1] * b0 + lo.addA + part * (hi.addA - lo.addA);
        b[i] = m_turn[2] * a0 + m_turn[3] * b0 + lo.addB + part * (hi.addB - lo.addB);
    }
}

void ColourLookRow::bringIntoGamut(const float *L, const float *a, const float *b, int n,
                                   float *red, float *green, float *blue) const
{
    for (int i = 0; i < n; ++i) {
        // Rounding may leave the gamut by a hair: encoding takes care of that.
        constexpr float kHair = 1e-4F;
        if (std::max({red[i], green[i], blue[i]}) <= 1 + kHair &&
            std::min({red[i], green[i], blue[i]}) >= -kHair)
            continue;
        const Oklab lab{std::clamp(L[i], 0.0F, 1.0F), a[i], b[i]};
        double fits = 0;
        double tooMuch = 1;
        const auto withChroma = [&](double share) {
            return m_fromXyz * toXyz({lab.L, lab.a * share, lab.b * share});
        };
        for (int k = 0; k < 10; ++k) {
            const double share = (fits + tooMuch) / 2;
            const Vector3 rgb = withChroma(share);
            const auto [least, most] = std::minmax({rgb[0], rgb[1], rgb[2]});
            (least >= 0 && most <= 1 ? fits : tooMuch) = share;
        }
        const Vector3 rgb = withChroma(fits);
        red[i] = float(rgb[0]);
        green[i] = float(rgb[1]);
        blue[i] = float(rgb[2]);
    }
}

void ColourLookRow::apply(int n, float *r, float *g, float *b) const
{
    labRow(m_space.toLms.data(), n, r, g, b);
    change(n, r, g, b);
    float lab[3][kRowRun];
    std::copy_n(r, n, lab[0]);
    std::copy_n(g, n, lab[1]);
    std::copy_n(b, n, lab[2]);
    linearOfLabRow(m_space.fromLms.data(), n, r, g, b);
    bringIntoGamut(lab[0], lab[1], lab[2], n, r, g, b);
}

} // namespace buttonhole
