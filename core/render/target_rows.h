#pragma once

#include "render/render.h"
#include "render/rows.h"

namespace buttonhole
{

size_t bytesPerPixel(RenderTarget::Layout layout);

/// A row's pixels, one `step` bytes after the other.
void storeRow(const RowBuffer &buffer, int n, RenderTarget::Layout layout, uint8_t *to,
              ptrdiff_t step);

/// 65535 where any of three channels is another number.
void differRow(const float *r0, const float *r1, const float *g0, const float *g1, const float *b0,
               const float *b1, int n, uint16_t *differs);
/// Takes the other codes by a mask of 0 and 65535.
void chooseRow(const uint16_t *mask, const uint16_t *other, int n, uint16_t *codes);

} // namespace buttonhole
