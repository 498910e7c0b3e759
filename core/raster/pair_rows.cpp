// Compiled once per instruction set by Highway; HWY_DYNAMIC_DISPATCH picks at run time.
#include "raster/row_sums.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "raster/pair_rows.cpp"
#include <hwy/foreach_target.h>

#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace buttonhole::HWY_NAMESPACE
{

namespace hn = hwy::HWY_NAMESPACE;

/// Of `vectors` vectors from pixel `at` on, which stay in registers. The order of sums and the
/// roundings are the same for every instruction set.
template <size_t vectors, class D>
HWY_INLINE void sumVectors(D d, const float *weights, size_t count, const float *middle,
                           const float *const *before, const float *const *after, size_t at,
                           float *to)
{
    using V = hn::Vec<D>;
    const size_t lanes = hn::Lanes(d);
    const V first = hn::Set(d, weights[0]);
    V s0 = hn::Mul(first, hn::LoadU(d, middle + at));
    V s1 = s0;
    V s2 = s0;
    V s3 = s0;
    if constexpr (vectors == 4) {
        s1 = hn::Mul(first, hn::LoadU(d, middle + at + lanes));
        s2 = hn::Mul(first, hn::LoadU(d, middle + at + 2 * lanes));
        s3 = hn::Mul(first, hn::LoadU(d, middle + at + 3 * lanes));
    }
    for (size_t k = 0; k < count; ++k) {
        const V weight = hn::Set(d, weights[k + 1]);
        const float *a = before[k] + at;
        const float *b = after[k] + at;
        const auto more = [&](V sum, size_t by) {
            return hn::Add(sum,
                           hn::Mul(weight, hn::Add(hn::LoadU(d, a + by), hn::LoadU(d, b + by))));
        };
        s0 = more(s0, 0);
        if constexpr (vectors == 4) {
            s1 = more(s1, lanes);
            s2 = more(s2, 2 * lanes);
            s3 = more(s3, 3 * lanes);
        }
    }
    hn::StoreU(s0, d, to + at);
    if constexpr (vectors == 4) {
        hn::StoreU(s1, d, to + at + lanes);
        hn::StoreU(s2, d, to + at + 2 * lanes);
        hn::StoreU(s3, d, to + at + 3 * lanes);
    }
}

void sumAll(const float *weights, size_t count, const float *middle, const float *const *before,
            const float *const *after, size_t n, float *to)
{
    const hn::ScalableTag<float> d;
    const hn::CappedTag<float, 1> one;
    const size_t lanes = hn::Lanes(d);
    size_t at = 0;
    for (; at + 4 * lanes <= n; at += 4 * lanes)
        sumVectors<4>(d, weights, count, middle, before, after, at, to);
    for (; at + lanes <= n; at += lanes)
        sumVectors<1>(d, weights, count, middle, before, after, at, to);
    for (; at < n; ++at)
        sumVectors<1>(one, weights, count, middle, before, after, at, to);
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace buttonhole
{

HWY_EXPORT(sumAll);

void sumPairs(const float *weights, size_t count, const float *middle, const float *const *before,
              const float *const *after, int n, float *to)
{
    HWY_DYNAMIC_DISPATCH(sumAll)(weights, count, middle, before, after, size_t(n), to);
}

} // namespace buttonhole
#endif
