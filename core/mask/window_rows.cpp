// Compiled once per instruction set by Highway; HWY_DYNAMIC_DISPATCH picks at run time.
#include "mask/window_rows.h"

#include "colour/oklab.h"
#include "mask/pixel_step.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "mask/window_rows.cpp"
#include <hwy/foreach_target.h>

#include <hwy/highway.h>

#include "colour/oklab-inl.h"

HWY_BEFORE_NAMESPACE();
namespace buttonhole::HWY_NAMESPACE
{

/// Darker than this, noise would be taken for strong colour in the shade.
constexpr float kDarkest = 0.12F;

V smooth(V t)
{
    const D d;
    t = hn::Min(hn::Max(t, hn::Zero(d)), hn::Set(d, 1));
    return hn::Mul(hn::Mul(t, t), hn::NegMulAdd(hn::Set(d, 2), t, hn::Set(d, 3)));
}

V at(const SoftRange &range, V value)
{
    const D d;
    const V beyond = hn::Max(
        hn::Max(hn::Sub(hn::Set(d, range.least), value), hn::Sub(value, hn::Set(d, range.most))),
        hn::Zero(d));
    if (range.soft <= 0)
        return hn::IfThenElseZero(hn::Le(beyond, hn::Zero(d)), hn::Set(d, 1));
    return smooth(hn::NegMulAdd(beyond, hn::Set(d, 1 / range.soft), hn::Set(d, 1)));
}

void soft(const SoftRange &range, const float *value, int n, float *out)
{
    const D d;
    for (int i = 0; i < n; i += int(hn::Lanes(d)))
        hn::StoreU(at(range, hn::LoadU(d, value + i)), d, out + i);
}

/// By chroma and hue.
V shareOf(const RangeRow &in, V chroma, V hueAt)
{
    const V hue = lookUp(D(), in.hue, kWindowHueSteps, hueAt);
    return hn::Mul(at(*in.chroma, chroma), hue);
}

void window(const RangeRow &range, bool follows, const RangeRow *excluded, size_t excludedCount,
            const float *L, const float *a, const float *b, int n, float *out)
{
    const D d;
    const V middle = hn::Set(d, (range.lightness->least + range.lightness->most) / 2);
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V l = hn::LoadU(d, L + i);
        const V ca = hn::LoadU(d, a + i);
        const V cb = hn::LoadU(d, b + i);
        const V chroma = hn::Sqrt(hn::MulAdd(ca, ca, hn::Mul(cb, cb)));
        const V hueAt = hn::Mul(hueTurn(d, ca, cb), hn::Set(d, float(kWindowHueSteps) / 4));
        V share;
        if (follows)
            share = shareOf(
                range, hn::Div(hn::Mul(chroma, middle), hn::Max(l, hn::Set(d, kDarkest))), hueAt);
        else
            share = hn::Mul(shareOf(range, chroma, hueAt), at(*range.lightness, l));
        for (size_t k = 0; k < excludedCount; ++k) {
            const V other =
                hn::Mul(shareOf(excluded[k], chroma, hueAt), at(*excluded[k].lightness, l));
            share = hn::NegMulAdd(share, other, share);
        }
        hn::StoreU(share, d, out + i);
    }
}

void nearest(const float *colours, size_t count, float lightnessShare, const float *L,
             const float *a, const float *b, int n, float *out)
{
    const D d;
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V l = hn::LoadU(d, L + i);
        const V ca = hn::LoadU(d, a + i);
        const V cb = hn::LoadU(d, b + i);
        V least = hn::Set(d, 4.0F);
        for (const float *c = colours; c < colours + 3 * count; c += 3) {
            const V dl = hn::Mul(hn::Sub(l, hn::Set(d, c[0])), hn::Set(d, lightnessShare));
            const V da = hn::Sub(ca, hn::Set(d, c[1]));
            const V db = hn::Sub(cb, hn::Set(d, c[2]));
            least = hn::Min(least, hn::MulAdd(dl, dl, hn::MulAdd(da, da, hn::Mul(db, db))));
        }
        hn::StoreU(hn::Sqrt(least), d, out + i);
    }
}

void side(float border, const float *near, const float *away, int n, float *out)
{
    const D d;
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V to = hn::LoadU(d, near + i);
        const V from = hn::LoadU(d, away + i);
        const V share = hn::Div(from, hn::Max(hn::Add(to, from), hn::Set(d, 1e-6F)));
        hn::StoreU(smooth(hn::MulAdd(hn::Sub(share, hn::Set(d, 0.5F)), hn::Set(d, 1 / border),
                                     hn::Set(d, 0.5F))),
                   d, out + i);
    }
}

void mask(const float *coverage, int n, uint16_t *out)
{
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::Rebind<uint16_t, D> du16;
    const int lanes = int(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= n; i += lanes) {
        const V value =
            hn::MulAdd(hn::LoadU(d, coverage + i), hn::Set(d, 65535.0F), hn::Set(d, 0.5F));
        hn::StoreU(hn::DemoteTo(du16, hn::ConvertTo(di, value)), du16, out + i);
    }
    for (; i < n; ++i)
        out[i] = uint16_t(coverage[i] * 65535.0F + 0.5F);
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace buttonhole
{

HWY_EXPORT(soft);
HWY_EXPORT(window);
HWY_EXPORT(nearest);
HWY_EXPORT(side);
HWY_EXPORT(mask);

void softRow(const SoftRange &range, const float *value, int n, float *out)
{
    HWY_DYNAMIC_DISPATCH(soft)(range, value, n, out);
}

void windowRow(const RangeRow &range, bool followsShading, const RangeRow *excluded,
               size_t excludedCount, const float *L, const float *a, const float *b, int n,
               float *out)
{
    HWY_DYNAMIC_DISPATCH(window)
    (range, followsShading, excluded, excludedCount, L, a, b, n, out);
}

void nearestRow(const float *colours, size_t count, float lightnessShare, const float *L,
                const float *a, const float *b, int n, float *out)
{
    HWY_DYNAMIC_DISPATCH(nearest)(colours, count, lightnessShare, L, a, b, n, out);
}

void sideRow(float border, const float *near, const float *away, int n, float *out)
{
    HWY_DYNAMIC_DISPATCH(side)(border, near, away, n, out);
}

void maskRow(const float *coverage, int n, uint16_t *out)
{
    HWY_DYNAMIC_DISPATCH(mask)(coverage, n, out);
}

} // namespace buttonhole
#endif
