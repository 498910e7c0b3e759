#include "render/target_rows.h"

#include "base/each_cpu.h"
#include "colour/pixel_rows.h"

namespace buttonhole
{

size_t bytesPerPixel(RenderTarget::Layout layout)
{
    switch (layout) {
    case RenderTarget::Layout::Rgb8:
        return 3;
    case RenderTarget::Layout::Rgb16:
        return 6;
    case RenderTarget::Layout::Bgrx8:
        break;
    }
    return 4;
}

void storeRow(const RowBuffer &buffer, int n, RenderTarget::Layout layout, uint8_t *to,
              ptrdiff_t step)
{
    const auto put = [&]<class T>(T *, auto &&colour) {
        for (int i = 0; i < n; ++i, to += step)
            colour(reinterpret_cast<T *>(to), buffer.out[0][i], buffer.out[1][i], buffer.out[2][i]);
    };
    const bool isDense = step == ptrdiff_t(bytesPerPixel(layout));
    const auto threeOf = [](auto *at, auto r, auto g, auto b) {
        using Code = std::remove_reference_t<decltype(*at)>;
        at[0] = Code(r), at[1] = Code(g), at[2] = Code(b);
    };
    switch (layout) {
    case RenderTarget::Layout::Rgb8:
        if (isDense)
            interleaveRow(buffer.out[0], buffer.out[1], buffer.out[2], n, to);
        else
            put(static_cast<uint8_t *>(nullptr), threeOf);
        break;
    case RenderTarget::Layout::Rgb16:
        if (isDense)
            interleaveRow(buffer.out[0], buffer.out[1], buffer.out[2], n,
                          reinterpret_cast<uint16_t *>(to));
        else
            put(static_cast<uint16_t *>(nullptr), threeOf);
        break;
    case RenderTarget::Layout::Bgrx8:
        put(static_cast<uint32_t *>(nullptr), [](uint32_t *at, auto r, auto g, auto b) {
            *at = 0xFF000000U | uint32_t(r) << 16 | uint32_t(g) << 8 | uint32_t(b);
        });
        break;
    }
}

BUTTONHOLE_EACH_CPU
void differRow(const float *r0, const float *r1, const float *g0, const float *g1, const float *b0,
               const float *b1, int n, uint16_t *__restrict differs)
{
    for (int i = 0; i < n; ++i)
        differs[i] = (r0[i] == r1[i]) & (g0[i] == g1[i]) & (b0[i] == b1[i]) ? 0 : 65535;
}

BUTTONHOLE_EACH_CPU
void chooseRow(const uint16_t *mask, const uint16_t *other, int n, uint16_t *__restrict codes)
{
    for (int i = 0; i < n; ++i)
        codes[i] = uint16_t((other[i] & mask[i]) | (codes[i] & ~mask[i]));
}

} // namespace buttonhole
