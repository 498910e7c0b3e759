#pragma once

#include "lettering/lettering.h"

#include <cairo.h>

#include <cmath>
#include <cstring>
#include <memory>

namespace buttonhole
{

template <auto Free>
struct Freed {
    template <class T>
    void operator()(T *what) const
    {
        Free(what);
    }
};
using SurfacePtr = std::unique_ptr<cairo_surface_t, Freed<cairo_surface_destroy>>;
using CairoPtr = std::unique_ptr<cairo_t, Freed<cairo_destroy>>;

/// A canvas to draw on, and what was drawn as pixels.
class Sheet
{
public:
    Sheet(int width, int height)
        : m_surface(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height)),
          m_cairo(cairo_create(m_surface.get()))
    {
    }
    bool isFine() const { return cairo_status(m_cairo.get()) == CAIRO_STATUS_SUCCESS; }
    cairo_t *cairo() const { return m_cairo.get(); }

    Image<uint8_t> pixels() const
    {
        cairo_surface_flush(m_surface.get());
        const int width = cairo_image_surface_get_width(m_surface.get());
        const int height = cairo_image_surface_get_height(m_surface.get());
        const unsigned char *data = cairo_image_surface_get_data(m_surface.get());
        const int stride = cairo_image_surface_get_stride(m_surface.get());
        Image<uint8_t> out(width, height, 4);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                uint32_t argb = 0;
                std::memcpy(&argb, data + ptrdiff_t(y) * stride + ptrdiff_t(x) * 4, 4);
                uint8_t *to = out.pixel(x, y);
                to[0] = uint8_t(argb >> 16);
                to[1] = uint8_t(argb >> 8);
                to[2] = uint8_t(argb);
                to[3] = uint8_t(argb >> 24);
            }
        return out;
    }

private:
    SurfacePtr m_surface;
    CairoPtr m_cairo;
};

/// A sheet for so much at that scale. Errors: TooLarge, OutOfMemory.
inline Result<std::unique_ptr<Sheet>> sheetFor(double width, double height, double scale)
{
    const auto [w, h] = drawnSize(width, height, scale);
    if (!(w <= kMostDrawnSide && h <= kMostDrawnSide && w * h <= kMostDrawnPixels))
        return signatureError(ErrorKind::TooLarge, "make the signature smaller");
    auto out = std::make_unique<Sheet>(int(w), int(h));
    if (!out->isFine())
        return signatureError(ErrorKind::OutOfMemory, "");
    return out;
}

} // namespace buttonhole
