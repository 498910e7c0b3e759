// Compiled once per instruction set by Highway; HWY_DYNAMIC_DISPATCH picks at run time.
#include "tone/grey_rows.h"

#include "colour/oklab.h"
#include "tone/toning_curve.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "tone/grey_rows.cpp"
#include <hwy/foreach_target.h>

#include <hwy/highway.h>

#include "colour/oklab-inl.h"

HWY_BEFORE_NAMESPACE();
namespace buttonhole::HWY_NAMESPACE
{

V notNegative(D d, V x)
{
    return hn::Max(x, hn::Zero(d));
}

void base(int kind, const float *weights, const float *toLms, const float *r, const float *g,
          const float *b, int n, float *y)
{
    const D d;
    const int lanes = int(hn::Lanes(d));
    const LabRows rows;
    const V factor = hn::Set(d, weights[0]);
    for (int i = 0; i < n; i += lanes) {
        const V vr = hn::LoadU(d, r + i);
        const V vg = hn::LoadU(d, g + i);
        const V vb = hn::LoadU(d, b + i);
        V out;
        if (kind == int(GreyMix::Base::Lightness)) {
            const V t = labOf(d, rows, toLms, vr, vg, vb).L;
            out = hn::Mul(factor, hn::Mul(t, hn::Mul(t, t)));
        } else if (kind == int(GreyMix::Base::Extremes)) {
            const V most = hn::Max(vr, hn::Max(vg, vb));
            const V least = hn::Min(vr, hn::Min(vg, vb));
            out = hn::Mul(factor, hn::Mul(hn::Set(d, 0.5F), hn::Add(most, least)));
        } else {
            out = dot(d, weights, vr, vg, vb);
        }
        hn::StoreU(notNegative(d, out), d, y + i);
    }
}

void hue(const float *toLms, const float *gain, const float *r, const float *g, const float *b,
         int n, float *y)
{
    const D d;
    const int lanes = int(hn::Lanes(d));
    const LabRows rows;
    const V quarter = hn::Set(d, float(kHueSteps / 4));
    for (int i = 0; i < n; i += lanes) {
        const Lab lab =
            labOf(d, rows, toLms, hn::LoadU(d, r + i), hn::LoadU(d, g + i), hn::LoadU(d, b + i));
        const V turn = hueTurn(d, lab.a, lab.b);
        const V at = hn::Min(notNegative(d, hn::Mul(turn, quarter)), hn::Set(d, float(kHueSteps)));
        const V chroma2 = hn::MulAdd(lab.a, lab.a, hn::Mul(lab.b, lab.b));
        const V scale = hn::Add(notNegative(d, lab.L), hn::Set(d, kHueFloor));
        const V knee = hn::Mul(scale, hn::Set(d, kHueKnee));
        const V weight = hn::Div(chroma2, hn::MulAdd(knee, knee, chroma2));
        const V vy = hn::LoadU(d, y + i);
        const V lifted = hn::MulAdd(hn::Mul(weight, lookUp(d, gain, kHueSteps, at)), vy, vy);
        hn::StoreU(notNegative(d, lifted), d, y + i);
    }
}

void lightness(const float *y, int n, float *t)
{
    const D d;
    for (int i = 0; i < n; i += int(hn::Lanes(d)))
        hn::StoreU(cubeRoot(d, hn::LoadU(d, y + i)), d, t + i);
}

void linear(const float *t, int n, float *y)
{
    const D d;
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V v = hn::LoadU(d, t + i);
        hn::StoreU(hn::Mul(v, hn::Mul(v, v)), d, y + i);
    }
}

void detail(float share, const float *a, const float *b, int n, float *t)
{
    const D d;
    const V k = hn::Set(d, share);
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V v = hn::LoadU(d, t + i);
        const V mean = hn::MulAdd(hn::LoadU(d, a + i), v, hn::LoadU(d, b + i));
        hn::StoreU(notNegative(d, hn::MulAdd(k, hn::Sub(v, mean), v)), d, t + i);
    }
}

void table(const float *values, int steps, int n, float *t)
{
    const D d;
    const V top = hn::Set(d, float(steps));
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V at = hn::Mul(hn::LoadU(d, t + i), top);
        hn::StoreU(lookUp(d, values, steps, hn::Min(notNegative(d, at), top)), d, t + i);
    }
}

void mix(float share, const float *from, int n, float *t)
{
    const D d;
    const V k = hn::Set(d, share);
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V v = hn::LoadU(d, from + i);
        hn::StoreU(hn::MulAdd(k, hn::Sub(hn::LoadU(d, t + i), v), v), d, t + i);
    }
}

void tintedBlend(const TintedBlend &with, const float *y, const uint16_t *mask, int n, float *r,
                 float *g, float *b)
{
    const D d;
    const hn::Rebind<uint16_t, D> du16;
    const hn::RebindToSigned<D> di;
    const int lanes = int(hn::Lanes(d));
    const LabRows rows;
    const V top = hn::Set(d, float(kToningSteps));
    const V left = hn::Set(d, with.colourLeft);
    const auto toned = [&](V t) {
        const V at = hn::Min(notNegative(d, hn::Mul(t, top)), top);
        // Above white the curve goes on as it ends: neutral.
        const V over = notNegative(d, hn::Sub(t, hn::Set(d, 1)));
        return Lab{hn::Add(lookUp(d, with.toningL, kToningSteps, at), over),
                   lookUp(d, with.toningA, kToningSteps, at),
                   lookUp(d, with.toningB, kToningSteps, at)};
    };
    for (int i = 0; i < n; i += lanes) {
        Lab colour = labOf(d, rows, with.toLms, hn::LoadU(d, r + i), hn::LoadU(d, g + i),
                           hn::LoadU(d, b + i));
        Lab grey = toned(cubeRoot(d, hn::LoadU(d, y + i)));
        // The photo's saturation: its chroma goes with the grey's lightness.
        const V ratio = hn::Min(
            hn::Div(notNegative(d, grey.L), hn::Max(colour.L, hn::Set(d, 0.02F))), hn::Set(d, 2));
        const V chroma = hn::Mul(left, ratio);
        grey.a = hn::MulAdd(chroma, colour.a, grey.a);
        grey.b = hn::MulAdd(chroma, colour.b, grey.b);
        if (with.overKeeps) {
            const Lab over = toned(colour.L);
            colour.a = hn::Add(colour.a, over.a);
            colour.b = hn::Add(colour.b, over.b);
        }
        const V share = hn::Mul(hn::ConvertTo(d, hn::PromoteTo(di, hn::LoadU(du16, mask + i))),
                                hn::Set(d, 1.0F / 65535));
        const V L = hn::MulAdd(share, hn::Sub(colour.L, grey.L), grey.L);
        const V a = hn::MulAdd(share, hn::Sub(colour.a, grey.a), grey.a);
        const V bb = hn::MulAdd(share, hn::Sub(colour.b, grey.b), grey.b);
        storeLinear(d, rows, with.fromLms, {L, a, bb}, r + i, g + i, b + i);
    }
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace buttonhole
{

HWY_EXPORT(base);
HWY_EXPORT(hue);
HWY_EXPORT(lightness);
HWY_EXPORT(linear);
HWY_EXPORT(detail);
HWY_EXPORT(table);
HWY_EXPORT(mix);
HWY_EXPORT(tintedBlend);

void baseRow(GreyMix::Base kind, const float *weights, const float *toLms, const float *r,
             const float *g, const float *b, int n, float *y)
{
    HWY_DYNAMIC_DISPATCH(base)(int(kind), weights, toLms, r, g, b, n, y);
}

void hueRow(const float *toLms, const float *gain, const float *r, const float *g, const float *b,
            int n, float *y)
{
    HWY_DYNAMIC_DISPATCH(hue)(toLms, gain, r, g, b, n, y);
}

void lightnessRow(const float *y, int n, float *t)
{
    HWY_DYNAMIC_DISPATCH(lightness)(y, n, t);
}

void linearRow(const float *t, int n, float *y)
{
    HWY_DYNAMIC_DISPATCH(linear)(t, n, y);
}

void detailRow(float share, const float *a, const float *b, int n, float *t)
{
    HWY_DYNAMIC_DISPATCH(detail)(share, a, b, n, t);
}

void tableRow(const float *values, int steps, int n, float *t)
{
    HWY_DYNAMIC_DISPATCH(table)(values, steps, n, t);
}

void mixRow(float share, const float *from, int n, float *t)
{
    HWY_DYNAMIC_DISPATCH(mix)(share, from, n, t);
}

void tintedBlendRow(const TintedBlend &blend, const float *y, const uint16_t *mask, int n, float *r,
                    float *g, float *b)
{
    HWY_DYNAMIC_DISPATCH(tintedBlend)(blend, y, mask, n, r, g, b);
}

} // namespace buttonhole
#endif
