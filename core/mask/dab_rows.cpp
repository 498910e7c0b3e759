// Compiled once per instruction set by Highway; HWY_DYNAMIC_DISPATCH picks at run time.
#include "mask/dab_rows.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "mask/dab_rows.cpp"
#include <hwy/foreach_target.h>

#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace buttonhole::HWY_NAMESPACE
{

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

V toFloat(D d, const uint16_t *from, size_t count)
{
    const hn::RebindToSigned<D> di;
    const hn::Rebind<uint16_t, D> du16;
    const auto codes = count >= hn::Lanes(d) ? hn::LoadU(du16, from) : [&] {
        HWY_ALIGN uint16_t some[HWY_MAX_BYTES] = {};
        for (size_t i = 0; i < count; ++i)
            some[i] = from[i];
        return hn::Load(du16, some);
    }();
    return hn::ConvertTo(d, hn::PromoteTo(di, codes));
}

void store(D d, V value, uint16_t *to, size_t count)
{
    const hn::RebindToSigned<D> di;
    const hn::Rebind<uint16_t, D> du16;
    const auto codes = hn::DemoteTo(du16, hn::ConvertTo(di, hn::Add(value, hn::Set(d, 0.5F))));
    if (count >= hn::Lanes(d)) {
        hn::StoreU(codes, du16, to);
        return;
    }
    HWY_ALIGN uint16_t some[HWY_MAX_BYTES];
    hn::Store(codes, du16, some);
    for (size_t i = 0; i < count; ++i)
        to[i] = some[i];
}

void layDab(const DabRow &dab, uint16_t *build, int n)
{
    const D d;
    const int lanes = int(hn::Lanes(d));
    const V one = hn::Set(d, 1);
    const V full = hn::Set(d, 65535);
    for (int i = 0; i < n; i += lanes) {
        const auto count = size_t(n - i);
        const V dx = hn::Add(hn::Set(d, dab.firstDx + float(i)), hn::Iota(d, 0));
        const V distance = hn::Sqrt(hn::MulAdd(dx, dx, hn::Set(d, dab.dySquared)));
        const V inside = hn::Mul(hn::Sub(hn::Set(d, dab.outer), distance), hn::Set(d, dab.perPx));
        const V t = hn::Max(hn::Zero(d), hn::Min(one, inside));
        const V shape = hn::Mul(hn::Mul(t, t), hn::NegMulAdd(hn::Set(d, 2), t, hn::Set(d, 3)));
        const V now = toFloat(d, build + i, count);
        const V more = hn::Mul(hn::Sub(full, now), hn::Mul(shape, hn::Set(d, dab.flow)));
        store(d, hn::Add(now, more), build + i, count);
    }
}

void raise(const uint16_t *build, float opacity, uint16_t *limit, int n)
{
    const D d;
    const int lanes = int(hn::Lanes(d));
    for (int i = 0; i < n; i += lanes) {
        const auto count = size_t(n - i);
        const V c = hn::Floor(
            hn::MulAdd(toFloat(d, build + i, count), hn::Set(d, opacity), hn::Set(d, 0.5F)));
        store(d, hn::Max(toFloat(d, limit + i, count), c), limit + i, count);
    }
}

void lower(const uint16_t *build, float opacity, uint16_t *limit, int n)
{
    const D d;
    const int lanes = int(hn::Lanes(d));
    for (int i = 0; i < n; i += lanes) {
        const auto count = size_t(n - i);
        const V c = hn::Floor(
            hn::MulAdd(toFloat(d, build + i, count), hn::Set(d, opacity), hn::Set(d, 0.5F)));
        const V most = hn::Sub(hn::Set(d, 65535), c);
        store(d, hn::Min(toFloat(d, limit + i, count), most), limit + i, count);
    }
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace buttonhole
{

HWY_EXPORT(layDab);
HWY_EXPORT(raise);
HWY_EXPORT(lower);

void layDabRow(const DabRow &dab, uint16_t *build, int n)
{
    HWY_DYNAMIC_DISPATCH(layDab)(dab, build, n);
}

void raiseRow(const uint16_t *build, float opacity, uint16_t *limit, int n)
{
    HWY_DYNAMIC_DISPATCH(raise)(build, opacity, limit, n);
}

void lowerRow(const uint16_t *build, float opacity, uint16_t *limit, int n)
{
    HWY_DYNAMIC_DISPATCH(lower)(build, opacity, limit, n);
}

} // namespace buttonhole
#endif
