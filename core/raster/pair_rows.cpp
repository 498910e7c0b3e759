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

/// Rows above and below.
struct Rows {
    const float *const *before;
    const float *const *after;
    const float *first(size_t k) const { return before[k]; }
    const float *second(size_t k) const { return after[k]; }
};

/// The middle's own row.
struct Along {
    const float *middle;
    const float *first(size_t k) const { return middle - (k + 1); }
    const float *second(size_t k) const { return middle + (k + 1); }
};

/// Of `vectors` vectors from pixel `at` on, which stay in registers. The order of sums and the
/// roundings are the same for every instruction set.
template <size_t vectors, class D, class Beside>
HWY_INLINE void sumVectors(D d, const float *weights, size_t count, const float *middle,
                           const Beside &beside, size_t at, float *to)
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
        const float *a = beside.first(k) + at;
        const float *b = beside.second(k) + at;
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

/// The last vector overlaps the one before it: `to` is none of what is read.
template <class Beside>
HWY_INLINE void sumRow(const float *weights, size_t count, const float *middle,
                       const Beside &beside, size_t n, float *to)
{
    const hn::ScalableTag<float> d;
    const hn::CappedTag<float, 1> one;
    const size_t lanes = hn::Lanes(d);
    size_t at = 0;
    for (; at + 4 * lanes <= n; at += 4 * lanes)
        sumVectors<4>(d, weights, count, middle, beside, at, to);
    for (; at + lanes <= n; at += lanes)
        sumVectors<1>(d, weights, count, middle, beside, at, to);
    if (at < n && n >= lanes)
        sumVectors<1>(d, weights, count, middle, beside, n - lanes, to);
    else
        for (; at < n; ++at)
            sumVectors<1>(one, weights, count, middle, beside, at, to);
}

void sumOfRows(const float *weights, size_t count, const float *middle, const float *const *before,
               const float *const *after, size_t n, float *to)
{
    sumRow(weights, count, middle, Rows{before, after}, n, to);
}

void sumOfRow(const float *weights, size_t count, const float *middle, size_t n, float *to)
{
    sumRow(weights, count, middle, Along{middle}, n, to);
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace buttonhole
{

HWY_EXPORT(sumOfRow);
HWY_EXPORT(sumOfRows);

void sumPairs(const float *weights, size_t count, const float *middle, const float *const *before,
              const float *const *after, int n, float *to)
{
    HWY_DYNAMIC_DISPATCH(sumOfRows)(weights, count, middle, before, after, size_t(n), to);
}

void sumAlong(const float *weights, size_t count, const float *middle, int n, float *to)
{
    HWY_DYNAMIC_DISPATCH(sumOfRow)(weights, count, middle, size_t(n), to);
}

} // namespace buttonhole
#endif
