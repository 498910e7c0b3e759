// Included once per instruction set, after <hwy/highway.h> (Highway's -inl.h pattern).
#if defined(BUTTONHOLE_OKLAB_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef BUTTONHOLE_OKLAB_INL_H
#undef BUTTONHOLE_OKLAB_INL_H
#else
#define BUTTONHOLE_OKLAB_INL_H
#endif

HWY_BEFORE_NAMESPACE();
namespace buttonhole::HWY_NAMESPACE
{

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using V = hn::Vec<D>;

/// Cube root for finite x, sign kept. First guess from the exponent bits, error under 6 %; each
/// Halley step cubes it.
inline V cubeRoot(D d, V x)
{
    const hn::RebindToSigned<D> di;
    const V magnitude = hn::Abs(x);
    const V bits = hn::ConvertTo(d, hn::BitCast(di, magnitude));
    V y = hn::BitCast(
        d, hn::ConvertTo(di, hn::MulAdd(bits, hn::Set(d, 1.0F / 3), hn::Set(d, 709921077.0F))));
    for (int i = 0; i < 2; ++i) {
        const V cube = hn::Mul(y, hn::Mul(y, y));
        y = hn::Mul(y, hn::Div(hn::MulAdd(hn::Set(d, 2), magnitude, cube),
                               hn::MulAdd(hn::Set(d, 2), cube, magnitude)));
    }
    y = hn::IfThenElseZero(hn::Gt(magnitude, hn::Set(d, 1e-24F)), y);
    return hn::CopySign(y, x);
}

/// The same within 5e-7 and without a division, by way of x^(-1/3): two steps of the third order
/// (A. Householder, "The numerical treatment of a single nonlinear equation", 1970) from a guess by
/// the exponent bits, whose error is under 4 %. Exact for 0 and 1.
inline V quickCubeRoot(D d, V x)
{
    const hn::RebindToSigned<D> di;
    const V magnitude = hn::Abs(x);
    const V bits = hn::ConvertTo(d, hn::BitCast(di, magnitude));
    V y = hn::BitCast(
        d, hn::ConvertTo(di, hn::MulAdd(bits, hn::Set(d, -1.0F / 3), hn::Set(d, 1419900000.0F))));
    for (int i = 0; i < 2; ++i) {
        const V one = hn::Mul(hn::Mul(hn::Mul(magnitude, y), y), y); // from 0 on finite
        const V step = hn::MulAdd(hn::Set(d, 2.0F / 9), one, hn::Set(d, -7.0F / 9));
        y = hn::Mul(y, hn::MulAdd(step, one, hn::Set(d, 14.0F / 9)));
    }
    return hn::CopySign(hn::Mul(hn::Mul(magnitude, y), y), x);
}

inline V dot(D d, const float *row, V a, V b, V c)
{
    return hn::MulAdd(hn::Set(d, row[0]), a,
                      hn::MulAdd(hn::Set(d, row[1]), b, hn::Mul(hn::Set(d, row[2]), c)));
}

/// The matrices between cube-rooted cones and L, a, b, row-major.
struct LabRows {
    LabRows()
    {
        for (size_t i = 0; i < 9; ++i) {
            to[i] = float(kLmsRootToLab[i / 3][i % 3]);
            from[i] = float(kLabToLmsRoot[i / 3][i % 3]);
        }
    }
    float to[9];
    float from[9];
};

struct Lab {
    V L, a, b;
};

inline Lab labOf(D d, const LabRows &rows, const float *toLms, V r, V g, V b)
{
    const V l = cubeRoot(d, dot(d, toLms, r, g, b));
    const V m = cubeRoot(d, dot(d, toLms + 3, r, g, b));
    const V s = cubeRoot(d, dot(d, toLms + 6, r, g, b));
    return {dot(d, rows.to, l, m, s), dot(d, rows.to + 3, l, m, s), dot(d, rows.to + 6, l, m, s)};
}

/// A turn in 0..4 that rises with the hue of a, b and needs no trigonometry.
inline V hueTurn(D d, V a, V b)
{
    const V sum = hn::Max(hn::Add(hn::Abs(a), hn::Abs(b)), hn::Set(d, 1e-12F));
    const V part = hn::Div(b, sum); // -1..1
    const V right = hn::IfThenElse(hn::Lt(part, hn::Zero(d)), hn::Add(part, hn::Set(d, 4)), part);
    return hn::IfThenElse(hn::Lt(a, hn::Zero(d)), hn::Sub(hn::Set(d, 2), part), right);
}

/// Between the entries of a table at 0, 1 .. last + 1. Whatever the padding of a row holds, NaN
/// included, is looked up inside of it.
inline V lookUp(D d, const float *table, int last, V at)
{
    const hn::RebindToSigned<D> di;
    const V below = hn::Floor(at);
    const auto index = hn::Min(hn::Max(hn::ConvertTo(di, below), hn::Zero(di)), hn::Set(di, last));
    const V lo = hn::GatherIndex(d, table, index);
    const V hi = hn::GatherIndex(d, table + 1, index);
    return hn::MulAdd(hn::Sub(at, below), hn::Sub(hi, lo), lo);
}

/// Stores a colour as linear RGB at r[0], g[0], b[0] and on.
inline void storeLinear(D d, const LabRows &rows, const float *fromLms, const Lab &lab, float *r,
                        float *g, float *b)
{
    const V l = dot(d, rows.from, lab.L, lab.a, lab.b);
    const V m = dot(d, rows.from + 3, lab.L, lab.a, lab.b);
    const V s = dot(d, rows.from + 6, lab.L, lab.a, lab.b);
    const V lc = hn::Mul(l, hn::Mul(l, l));
    const V mc = hn::Mul(m, hn::Mul(m, m));
    const V sc = hn::Mul(s, hn::Mul(s, s));
    hn::StoreU(dot(d, fromLms, lc, mc, sc), d, r);
    hn::StoreU(dot(d, fromLms + 3, lc, mc, sc), d, g);
    hn::StoreU(dot(d, fromLms + 6, lc, mc, sc), d, b);
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
