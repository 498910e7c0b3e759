// Compiled once per instruction set by Highway; HWY_DYNAMIC_DISPATCH picks at run time.
#include "colour/pixel_rows.h"

#include "colour/oklab.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "colour/pixel_rows.cpp"
#include <hwy/foreach_target.h>

#include <hwy/highway.h>

#include "colour/oklab-inl.h"

HWY_BEFORE_NAMESPACE();
namespace buttonhole::HWY_NAMESPACE
{

void blend(const float *toLms, const float *fromLms, const float *y, const uint16_t *mask, int n,
           float *r, float *g, float *b)
{
    const D d;
    const hn::Rebind<uint16_t, D> du16;
    const hn::RebindToSigned<D> di;
    const int lanes = int(hn::Lanes(d));
    const LabRows rows;
    for (int i = 0; i < n; i += lanes) { // callers pad their rows to kRowRun
        const Lab lab =
            labOf(d, rows, toLms, hn::LoadU(d, r + i), hn::LoadU(d, g + i), hn::LoadU(d, b + i));
        const V grey = cubeRoot(d, hn::LoadU(d, y + i));
        const V share = hn::Mul(hn::ConvertTo(d, hn::PromoteTo(di, hn::LoadU(du16, mask + i))),
                                hn::Set(d, 1.0F / 65535));
        // The colour's axes are scaled by the share; lightness runs from the grey's to its own.
        const Lab mixed{hn::MulAdd(share, hn::Sub(lab.L, grey), grey), hn::Mul(share, lab.a),
                        hn::Mul(share, lab.b)};
        storeLinear(d, rows, fromLms, mixed, r + i, g + i, b + i);
    }
}

void encode(const float *curve, float top, const float *linear, int n, uint16_t *codes)
{
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::Rebind<uint16_t, D> du16;
    const int lanes = int(hn::Lanes(d));
    const V steps = hn::Set(d, float(Profile::kEncodeSteps));
    const V scale = hn::Set(d, top);
    for (int i = 0; i < n; i += lanes) {
        const V in = hn::LoadU(d, linear + i);
        // Comparing first turns NaN into 0, whatever Min and Max do with it.
        const V x = hn::Min(hn::IfThenElseZero(hn::Gt(in, hn::Zero(d)), in), hn::Set(d, 1));
        const V at = hn::Mul(hn::Sqrt(hn::Sqrt(x)), steps);
        const V below = hn::Min(hn::Floor(at), hn::Set(d, float(Profile::kEncodeSteps - 1)));
        const auto index = hn::ConvertTo(di, below);
        const V lo = hn::GatherIndex(d, curve, index);
        const V hi = hn::GatherIndex(d, curve + 1, index);
        const V value = hn::MulAdd(hn::Sub(at, below), hn::Sub(hi, lo), lo);
        const V rounded = hn::MulAdd(value, scale, hn::Set(d, 0.5F));
        hn::StoreU(hn::DemoteTo(du16, hn::ConvertTo(di, rounded)), du16, codes + i);
    }
}

/// Index into Profile::from8BitRoot.
void rootIndex(const float *linear, int n, uint16_t *index)
{
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::Rebind<uint16_t, D> du16;
    const int lanes = int(hn::Lanes(d));
    for (int i = 0; i < n; i += lanes) {
        const V in = hn::LoadU(d, linear + i);
        const V x = hn::Min(hn::IfThenElseZero(hn::Gt(in, hn::Zero(d)), in), hn::Set(d, 1));
        const V at = hn::MulAdd(hn::Sqrt(x), hn::Set(d, 65535.0F), hn::Set(d, 0.5F));
        hn::StoreU(hn::DemoteTo(du16, hn::ConvertTo(di, at)), du16, index + i);
    }
}

void square(const uint16_t *roots, int n, float *linear)
{
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::Rebind<uint16_t, D> du16;
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V root = hn::Mul(hn::ConvertTo(d, hn::PromoteTo(di, hn::LoadU(du16, roots + i))),
                               hn::Set(d, 1.0F / 65535));
        hn::StoreU(hn::Mul(root, root), d, linear + i);
    }
}

template <class To>
void interleave(const uint16_t *r, const uint16_t *g, const uint16_t *b, int n, To *out)
{
    const hn::ScalableTag<uint16_t> d16;
    const hn::Rebind<To, decltype(d16)> d;
    const hn::RebindToSigned<decltype(d16)> di16;
    const int lanes = int(hn::Lanes(d16));
    int i = 0;
    for (; i + lanes <= n; i += lanes) {
        const auto load = [&](const uint16_t *from) {
            const auto v = hn::LoadU(d16, from + i);
            if constexpr (sizeof(To) == 1) // codes are at most 255 here
                return hn::DemoteTo(d, hn::BitCast(di16, v));
            else
                return v;
        };
        hn::StoreInterleaved3(load(r), load(g), load(b), d, out + 3 * i);
    }
    for (; i < n; ++i) {
        out[3 * i] = To(r[i]);
        out[3 * i + 1] = To(g[i]);
        out[3 * i + 2] = To(b[i]);
    }
}

void interleave8(const uint16_t *r, const uint16_t *g, const uint16_t *b, int n, uint8_t *out)
{
    interleave(r, g, b, n, out);
}

void interleave16(const uint16_t *r, const uint16_t *g, const uint16_t *b, int n, uint16_t *out)
{
    interleave(r, g, b, n, out);
}

/// The sum of three tables' entries; whole vectors only.
/// @return how many pixels were done
template <class T>
int sumOfTables(const float *tr, const float *tg, const float *tb, const T *rgb, int n, float *y)
{
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::Rebind<T, D> dt;
    const int lanes = int(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= n; i += lanes) {
        hn::Vec<decltype(dt)> r, g, b;
        hn::LoadInterleaved3(dt, rgb + 3 * i, r, g, b);
        const V sum = hn::Add(hn::Add(hn::GatherIndex(d, tr, hn::PromoteTo(di, r)),
                                      hn::GatherIndex(d, tg, hn::PromoteTo(di, g))),
                              hn::GatherIndex(d, tb, hn::PromoteTo(di, b)));
        hn::StoreU(sum, d, y + i);
    }
    return i;
}

int sumOfTables8(const float *tr, const float *tg, const float *tb, const uint8_t *rgb, int n,
                 float *y)
{
    return sumOfTables(tr, tg, tb, rgb, n, y);
}

int sumOfTables16(const float *tr, const float *tg, const float *tb, const uint16_t *rgb, int n,
                  float *y)
{
    return sumOfTables(tr, tg, tb, rgb, n, y);
}

/// Each channel's entry of its table; whole vectors only.
/// @return how many pixels were done
int entries8(const float *tr, const float *tg, const float *tb, const uint8_t *rgb, int n, float *r,
             float *g, float *b)
{
    const D d;
    const hn::RebindToSigned<D> di;
    const hn::Rebind<uint8_t, D> du8;
    const int lanes = int(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= n; i += lanes) {
        hn::Vec<decltype(du8)> cr, cg, cb;
        hn::LoadInterleaved3(du8, rgb + 3 * i, cr, cg, cb);
        hn::StoreU(hn::GatherIndex(d, tr, hn::PromoteTo(di, cr)), d, r + i);
        hn::StoreU(hn::GatherIndex(d, tg, hn::PromoteTo(di, cg)), d, g + i);
        hn::StoreU(hn::GatherIndex(d, tb, hn::PromoteTo(di, cb)), d, b + i);
    }
    return i;
}

void matrix(const float *m, int n, float *r, float *g, float *b)
{
    const D d;
    const int lanes = int(hn::Lanes(d));
    for (int i = 0; i < n; i += lanes) {
        const V sr = hn::LoadU(d, r + i);
        const V sg = hn::LoadU(d, g + i);
        const V sb = hn::LoadU(d, b + i);
        hn::StoreU(dot(d, m, sr, sg, sb), d, r + i);
        hn::StoreU(dot(d, m + 3, sr, sg, sb), d, g + i);
        hn::StoreU(dot(d, m + 6, sr, sg, sb), d, b + i);
    }
}

template <bool isExact>
void toLab(const float *toLms, int n, float *r, float *g, float *b)
{
    const D d;
    const LabRows rows;
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V red = hn::LoadU(d, r + i);
        const V green = hn::LoadU(d, g + i);
        const V blue = hn::LoadU(d, b + i);
        Lab lab = labOf(d, rows, toLms, red, green, blue);
        if constexpr (isExact) {
            const auto isNeutral = hn::And(hn::Eq(red, green), hn::Eq(red, blue));
            lab.L = hn::IfThenElse(isNeutral, quickCubeRoot(d, red), lab.L);
            lab.a = hn::IfThenZeroElse(isNeutral, lab.a);
            lab.b = hn::IfThenZeroElse(isNeutral, lab.b);
        }
        hn::StoreU(lab.L, d, r + i);
        hn::StoreU(lab.a, d, g + i);
        hn::StoreU(lab.b, d, b + i);
    }
}

template <bool isExact>
void fromLab(const float *fromLms, int n, float *L, float *a, float *b)
{
    const D d;
    const LabRows rows;
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const Lab lab{hn::LoadU(d, L + i), hn::LoadU(d, a + i), hn::LoadU(d, b + i)};
        storeLinear(d, rows, fromLms, lab, L + i, a + i, b + i);
        if constexpr (isExact) {
            const auto isNeutral = hn::And(hn::Eq(lab.a, hn::Zero(d)), hn::Eq(lab.b, hn::Zero(d)));
            const V light = hn::Mul(lab.L, hn::Mul(lab.L, lab.L));
            for (float *to : {L + i, a + i, b + i})
                hn::StoreU(hn::IfThenElse(isNeutral, light, hn::LoadU(d, to)), d, to);
        }
    }
}

// Highway exports what is no template.

void toLabAny(const float *toLms, int n, float *r, float *g, float *b)
{
    toLab<false>(toLms, n, r, g, b);
}

void toLabExact(const float *toLms, int n, float *r, float *g, float *b)
{
    toLab<true>(toLms, n, r, g, b);
}

void fromLabAny(const float *fromLms, int n, float *L, float *a, float *b)
{
    fromLab<false>(fromLms, n, L, a, b);
}

void fromLabExact(const float *fromLms, int n, float *L, float *a, float *b)
{
    fromLab<true>(fromLms, n, L, a, b);
}

void neutralLab(int n, float *light)
{
    const D d;
    for (int i = 0; i < n; i += int(hn::Lanes(d)))
        hn::StoreU(quickCubeRoot(d, hn::LoadU(d, light + i)), d, light + i);
}

void neutralLinear(int n, float *L)
{
    const D d;
    for (int i = 0; i < n; i += int(hn::Lanes(d))) {
        const V v = hn::LoadU(d, L + i);
        hn::StoreU(hn::Mul(v, hn::Mul(v, v)), d, L + i);
    }
}

} // namespace buttonhole::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace buttonhole
{

HWY_EXPORT(blend);
HWY_EXPORT(encode);
HWY_EXPORT(entries8);
HWY_EXPORT(matrix);
HWY_EXPORT(rootIndex);
HWY_EXPORT(square);
HWY_EXPORT(toLabAny);
HWY_EXPORT(toLabExact);
HWY_EXPORT(fromLabAny);
HWY_EXPORT(fromLabExact);
HWY_EXPORT(neutralLab);
HWY_EXPORT(neutralLinear);
HWY_EXPORT(interleave8);
HWY_EXPORT(interleave16);
HWY_EXPORT(sumOfTables8);
HWY_EXPORT(sumOfTables16);

namespace
{

std::array<float, 9> flattened(const Matrix3 &m)
{
    std::array<float, 9> out{};
    for (size_t i = 0; i < 9; ++i)
        out[i] = float(m[i / 3][i % 3]);
    return out;
}

Matrix3 toLmsOf(const Profile &profile)
{
    return withWhite(xyzToLms() * profile.toXyz(), {1, 1, 1}, {1, 1, 1});
}

} // namespace

LightSpace::LightSpace(const Profile &p)
    : toLms(flattened(toLmsOf(p))), fromLms(flattened(inverse(toLmsOf(p)))), profile(p)
{
}

SourceColour::SourceColour(const Profile &p, int bitDepth) : LightSpace(p)
{
    const size_t codes = bitDepth == 8 ? 256 : 65536;
    for (size_t c = 0; c < 3; ++c) {
        const auto share = float(p.toXyz()[1][c]);
        toLinear[c].resize(codes);
        luminance[c].resize(codes);
        for (size_t i = 0; i < codes; ++i) {
            toLinear[c][i] = p.toLinear(c)[codes == 256 ? i * 257 : i];
            luminance[c][i] = toLinear[c][i] * share;
        }
    }
}

OutputColour::OutputColour(const Profile &p)
    : LightSpace(p),
      curvesAreEqual(p.fromRoot(0) == p.fromRoot(1) && p.fromRoot(0) == p.fromRoot(2))
{
}

template <class T>
void decodeRow(const SourceColour &colour, const T *rgb, int n, float *r, float *g, float *b)
{
    const float *tr = colour.toLinear[0].data();
    const float *tg = colour.toLinear[1].data();
    const float *tb = colour.toLinear[2].data();
    int i = 0;
    if constexpr (sizeof(T) == 1)
        i = HWY_DYNAMIC_DISPATCH(entries8)(tr, tg, tb, rgb, n, r, g, b);
    for (; i < n; ++i) {
        r[i] = tr[rgb[3 * i]];
        g[i] = tg[rgb[3 * i + 1]];
        b[i] = tb[rgb[3 * i + 2]];
    }
}

template <class T>
void luminanceRow(const SourceColour &colour, const T *rgb, int n, float *y)
{
    const float *tr = colour.luminance[0].data();
    const float *tg = colour.luminance[1].data();
    const float *tb = colour.luminance[2].data();
    int i = 0;
    if constexpr (sizeof(T) == 1)
        i = HWY_DYNAMIC_DISPATCH(sumOfTables8)(tr, tg, tb, rgb, n, y);
    else
        i = HWY_DYNAMIC_DISPATCH(sumOfTables16)(tr, tg, tb, rgb, n, y);
    for (; i < n; ++i)
        y[i] = tr[rgb[3 * i]] + tg[rgb[3 * i + 1]] + tb[rgb[3 * i + 2]];
}

template void decodeRow(const SourceColour &, const uint8_t *, int, float *, float *, float *);
template void decodeRow(const SourceColour &, const uint16_t *, int, float *, float *, float *);
template void luminanceRow(const SourceColour &, const uint8_t *, int, float *);
template void luminanceRow(const SourceColour &, const uint16_t *, int, float *);

void matrixRow(const float *m, int n, float *r, float *g, float *b)
{
    HWY_DYNAMIC_DISPATCH(matrix)(m, n, r, g, b);
}

void interleaveRow(const uint16_t *r, const uint16_t *g, const uint16_t *b, int n, uint8_t *out)
{
    HWY_DYNAMIC_DISPATCH(interleave8)(r, g, b, n, out);
}

void interleaveRow(const uint16_t *r, const uint16_t *g, const uint16_t *b, int n, uint16_t *out)
{
    HWY_DYNAMIC_DISPATCH(interleave16)(r, g, b, n, out);
}

void labRow(const float *toLms, int n, float *r, float *g, float *b)
{
    HWY_DYNAMIC_DISPATCH(toLabAny)(toLms, n, r, g, b);
}

void linearOfLabRow(const float *fromLms, int n, float *L, float *a, float *b)
{
    HWY_DYNAMIC_DISPATCH(fromLabAny)(fromLms, n, L, a, b);
}

void exactLabRow(const float *toLms, int n, float *r, float *g, float *b)
{
    HWY_DYNAMIC_DISPATCH(toLabExact)(toLms, n, r, g, b);
}

void linearOfExactLabRow(const float *fromLms, int n, float *L, float *a, float *b)
{
    HWY_DYNAMIC_DISPATCH(fromLabExact)(fromLms, n, L, a, b);
}

void neutralLabRow(int n, float *light)
{
    HWY_DYNAMIC_DISPATCH(neutralLab)(n, light);
}

void linearOfNeutralLabRow(int n, float *L)
{
    HWY_DYNAMIC_DISPATCH(neutralLinear)(n, L);
}

void blendRow(const float *toLms, const float *fromLms, const float *y, const uint16_t *mask, int n,
              float *r, float *g, float *b)
{
    HWY_DYNAMIC_DISPATCH(blend)(toLms, fromLms, y, mask, n, r, g, b);
}

void encodeRow(const Profile &profile, size_t channel, int bits, const float *linear, int n,
               uint16_t *codes)
{
    if (bits != 8) {
        HWY_DYNAMIC_DISPATCH(encode)(profile.fromRoot(channel).data(), 65535.0F, linear, n, codes);
        return;
    }
    rootRow(linear, n, codes);
    encodeRoots(profile, channel, codes, n, codes);
}

void rootRow(const float *linear, int n, uint16_t *roots)
{
    HWY_DYNAMIC_DISPATCH(rootIndex)(linear, n, roots);
}

void encodeRoots(const Profile &profile, size_t channel, const uint16_t *roots, int n,
                 uint16_t *codes)
{
    const uint8_t *table = profile.from8BitRoot(channel).data();
    for (int i = 0; i < n; ++i)
        codes[i] = table[roots[i]];
}

void linearOfRoots(const uint16_t *roots, int n, float *linear)
{
    HWY_DYNAMIC_DISPATCH(square)(roots, n, linear);
}

} // namespace buttonhole
#endif
