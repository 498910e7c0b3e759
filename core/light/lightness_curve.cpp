#include "light/lightness_curve.h"

#include "base/each_cpu.h"
#include "colour/pixel_rows.h"

namespace buttonhole
{

namespace
{

constexpr float kMostL = LightnessCurve::kMostL;

BUTTONHOLE_EACH_CPU
void curveRow(const float *table, float steps, const float *L, int n, float *__restrict made)
{
    for (int i = 0; i < n; ++i) {
        const float over = L[i] > 0 ? L[i] : 0.0F;
        const float at = (over < kMostL ? over : kMostL) * (steps / kMostL);
        const int below = int(at);
        made[i] = table[below] + (at - float(below)) * (table[below + 1] - table[below]);
    }
}

/// Lightness as `made`.
BUTTONHOLE_EACH_CPU
void takeLightness(const float *__restrict made, int n, float *__restrict L)
{
    for (int i = 0; i < n; ++i)
        L[i] = made[i] + (L[i] > kMostL ? L[i] - kMostL : 0.0F);
}

/// Colour with what lightness becomes. OKLab in place.
BUTTONHOLE_EACH_CPU
void followLightness(const float *__restrict made, float saturation, float faintColours, int n,
                     const float *__restrict L, float *__restrict a, float *__restrict b)
{
    constexpr float kLeastL = 0.02F; // darker has no colour to follow
    constexpr float kMostFollows = 3;
    constexpr float kFaintChroma = 0.08F;
    for (int i = 0; i < n; ++i) {
        const float was = L[i] > kLeastL ? L[i] : kLeastL;
        const float follows = made[i] / was < kMostFollows ? made[i] / was : kMostFollows;
        const float chroma2 = a[i] * a[i] + b[i] * b[i];
        const float faint = 1 + faintColours / (1 + chroma2 / (kFaintChroma * kFaintChroma));
        const float scale = saturation * faint * follows;
        a[i] *= scale;
        b[i] *= scale;
    }
}

} // namespace

void LightnessCurve::apply(float saturation, float faintColours, int n, float *L, float *a,
                           float *b) const
{
    float made[kRowRun];
    curveRow(m_table.data(), float(kSteps), L, n, made);
    followLightness(made, saturation, faintColours, n, L, a, b);
    takeLightness(made, n, L);
}

void LightnessCurve::apply(int n, float *L) const
{
    float made[kRowRun];
    curveRow(m_table.data(), float(kSteps), L, n, made);
    takeLightness(made, n, L);
}

} // namespace buttonhole
