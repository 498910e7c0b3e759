// Included once per instruction set, after <hwy/highway.h> (Highway's -inl.h pattern).
#if defined(BUTTONHOLE_CUBE_ROOT_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef BUTTONHOLE_CUBE_ROOT_INL_H
#undef BUTTONHOLE_CUBE_ROOT_INL_H
#else
#define BUTTONHOLE_CUBE_ROOT_INL_H
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

inline V dot(D d, const float *row, V a, V b, V c)
{
    return hn::MulAdd(hn::Set(d, row[0]), a,
                      hn::MulAdd(hn::Set(d, row[1]), b, hn::Mul(hn::Set(d, row[2]), c)));
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
