// A module of its own, loaded when first needed, as io/formats is: Pango, cairo and librsvg stay
// behind it.
#include "lettering/lettering.h"

#include <librsvg/rsvg.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <mutex>

namespace buttonhole
{

Result<std::unique_ptr<PdfWriter>> makePdfWriter(const std::string &file); // pdf.cpp

namespace
{

constexpr int kMostSide = 20000;        // px drawn: more than any picture needs
constexpr double kMostPixels = 120e6;   // the same
constexpr uint32_t kMostPngSide = 4000; // px
constexpr double kUnit = 200;           // what text is measured at, px of its font
constexpr const char *kPlainFont = "Inter";

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
using FontPtr = std::unique_ptr<PangoFontDescription, Freed<pango_font_description_free>>;
using ObjectPtr = std::unique_ptr<void, Freed<g_object_unref>>;

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

Error problem(ErrorKind kind, const char *detail)
{
    return {kind, "signature", detail};
}

/// A sheet for so much at that scale.
Result<std::unique_ptr<Sheet>> sheetFor(double width, double height, double scale)
{
    const double w = std::max(1.0, std::ceil(width * scale - 1e-6));
    const double h = std::max(1.0, std::ceil(height * scale - 1e-6));
    if (!(w <= kMostSide && h <= kMostSide && w * h <= kMostPixels))
        return problem(ErrorKind::TooLarge, "make the signature smaller");
    auto out = std::make_unique<Sheet>(int(w), int(h));
    if (!out->isFine())
        return problem(ErrorKind::OutOfMemory, "");
    return out;
}

FontPtr fontOf(const std::string &font)
{
    FontPtr out(pango_font_description_from_string(font.empty() ? kPlainFont : font.c_str()));
    pango_font_description_set_absolute_size(out.get(), kUnit * PANGO_SCALE);
    return out;
}

class Text final : public Drawing
{
public:
    Text(std::string text, std::string font) : m_text(std::move(text)), m_font(std::move(font))
    {
        const Sheet sheet(1, 1);
        withLayout(sheet.cairo(), [this](PangoLayout *layout) {
            PangoRectangle ink;
            PangoRectangle line;
            pango_layout_get_extents(layout, &ink, &line);
            m_x = double(ink.x) / PANGO_SCALE;
            m_y = double(ink.y) / PANGO_SCALE;
            m_width = double(ink.width) / PANGO_SCALE;
            m_height = double(ink.height) / PANGO_SCALE;
            m_line = double(line.height) / PANGO_SCALE;
        });
    }

    double width() const override { return m_width; }
    double height() const override { return m_height; }
    double lineHeight() const override { return m_line; }
    bool hasColours() const override { return false; }
    Result<Image<uint8_t>> draw(double scale) const override
    {
        auto sheet = sheetFor(m_width, m_height, scale);
        if (!sheet)
            return sheet.error();
        cairo_t *cairo = (*sheet)->cairo();
        cairo_scale(cairo, scale, scale);
        cairo_translate(cairo, -m_x, -m_y);
        withLayout(cairo, [&](PangoLayout *layout) {
            pango_cairo_layout_path(cairo, layout);
            cairo_fill(cairo);
        });
        return (*sheet)->pixels();
    }

private:
    /// Fonts belong to the thread that asks for them.
    template <class Use>
    void withLayout(cairo_t *cairo, Use use) const
    {
        const ObjectPtr layout(pango_cairo_create_layout(cairo));
        auto *made = static_cast<PangoLayout *>(layout.get());
        PangoContext *context = pango_layout_get_context(made);
        pango_context_set_round_glyph_positions(context, false); // alike at every size
        cairo_font_options_t *options = cairo_font_options_create();
        cairo_font_options_set_hint_style(options, CAIRO_HINT_STYLE_NONE);
        cairo_font_options_set_hint_metrics(options, CAIRO_HINT_METRICS_OFF);
        pango_cairo_context_set_font_options(context, options);
        pango_cairo_context_set_resolution(context, 96);
        cairo_font_options_destroy(options);
        pango_layout_set_single_paragraph_mode(made, true);
        pango_layout_set_text(made, m_text.c_str(), int(m_text.size()));
        pango_layout_set_font_description(made, fontOf(m_font).get());
        use(made);
    }

    std::string m_text;
    std::string m_font;
    double m_x = 0;
    double m_y = 0;
    double m_width = 0;
    double m_height = 0;
    double m_line = 0;
};

/// Where a PNG's bytes are read from.
struct Bytes {
    const std::string &all;
    size_t at = 0;
    static cairo_status_t read(void *closure, unsigned char *to, unsigned int count)
    {
        auto *bytes = static_cast<Bytes *>(closure);
        if (count > bytes->all.size() - bytes->at)
            return CAIRO_STATUS_READ_ERROR;
        std::memcpy(to, bytes->all.data() + bytes->at, count);
        bytes->at += count;
        return CAIRO_STATUS_SUCCESS;
    }
};

class Png final : public Drawing
{
public:
    explicit Png(SurfacePtr picture) : m_picture(std::move(picture)) {}
    double width() const override { return cairo_image_surface_get_width(m_picture.get()); }
    double height() const override { return cairo_image_surface_get_height(m_picture.get()); }
    double lineHeight() const override { return height(); }
    bool hasColours() const override { return true; }
    Result<Image<uint8_t>> draw(double scale) const override
    {
        auto sheet = sheetFor(width(), height(), scale);
        if (!sheet)
            return sheet.error();
        const std::scoped_lock lock(m_mutex);
        cairo_t *cairo = (*sheet)->cairo();
        cairo_scale(cairo, scale, scale);
        cairo_set_source_surface(cairo, m_picture.get(), 0, 0);
        cairo_pattern_set_filter(cairo_get_source(cairo), CAIRO_FILTER_BEST);
        cairo_paint(cairo);
        return (*sheet)->pixels();
    }

private:
    SurfacePtr m_picture;
    mutable std::mutex m_mutex; ///< one thread at a time uses the surface
};

class Svg final : public Drawing
{
public:
    Svg(ObjectPtr handle, double width, double height)
        : m_handle(std::move(handle)), m_width(width), m_height(height)
    {
    }
    double width() const override { return m_width; }
    double height() const override { return m_height; }
    double lineHeight() const override { return m_height; }
    bool hasColours() const override { return true; }
    Result<Image<uint8_t>> draw(double scale) const override
    {
        auto sheet = sheetFor(m_width, m_height, scale);
        if (!sheet)
            return sheet.error();
        const std::scoped_lock lock(m_mutex);
        const RsvgRectangle all{0, 0, m_width * scale, m_height * scale};
        if (!rsvg_handle_render_document(static_cast<RsvgHandle *>(m_handle.get()),
                                         (*sheet)->cairo(), &all, nullptr))
            return problem(ErrorKind::Damaged, "its SVG cannot be drawn");
        return (*sheet)->pixels();
    }

private:
    ObjectPtr m_handle;
    double m_width;
    double m_height;
    mutable std::mutex m_mutex; ///< one thread at a time uses the handle
};

Result<std::shared_ptr<const Drawing>> makeText(const std::string &text, const std::string &font)
{
    return std::shared_ptr<const Drawing>(std::make_shared<const Text>(text, font));
}

uint32_t bigEndian(const std::string &bytes, size_t at)
{
    uint32_t out = 0;
    for (size_t i = 0; i < 4; ++i)
        out = out << 8 | static_cast<unsigned char>(bytes[at + i]);
    return out;
}

Result<std::shared_ptr<const Drawing>> makePng(const std::string &bytes)
{
    constexpr size_t kWidthAt = 16; // of its header (PNG specification, 11.2.2)
    if (bytes.size() < kWidthAt + 8)
        return problem(ErrorKind::Damaged, "its PNG is cut off");
    if (bigEndian(bytes, kWidthAt) > kMostPngSide || bigEndian(bytes, kWidthAt + 4) > kMostPngSide)
        return problem(ErrorKind::TooLarge, "a PNG for a signature has at most 4000 × 4000 px");
    Bytes from{bytes};
    SurfacePtr read(cairo_image_surface_create_from_png_stream(Bytes::read, &from));
    if (cairo_surface_status(read.get()) != CAIRO_STATUS_SUCCESS)
        return problem(ErrorKind::Damaged, "its PNG cannot be read");
    // Of whatever kind it is, from now on it is red, green, blue and alpha.
    const int width = cairo_image_surface_get_width(read.get());
    const int height = cairo_image_surface_get_height(read.get());
    SurfacePtr own(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height));
    const CairoPtr cairo(cairo_create(own.get()));
    cairo_set_source_surface(cairo.get(), read.get(), 0, 0);
    cairo_paint(cairo.get());
    if (cairo_status(cairo.get()) != CAIRO_STATUS_SUCCESS)
        return problem(ErrorKind::OutOfMemory, "");
    return std::shared_ptr<const Drawing>(std::make_shared<const Png>(std::move(own)));
}

Result<std::shared_ptr<const Drawing>> makeSvg(const std::string &bytes)
{
    // Without a place of its own it may not look at other files.
    ObjectPtr handle(rsvg_handle_new_from_data(reinterpret_cast<const guint8 *>(bytes.data()),
                                               bytes.size(), nullptr));
    if (!handle)
        return problem(ErrorKind::Damaged, "a PNG or an SVG is expected");
    auto *svg = static_cast<RsvgHandle *>(handle.get());
    double width = 0;
    double height = 0;
    if (!rsvg_handle_get_intrinsic_size_in_pixels(svg, &width, &height)) {
        gboolean hasWidth = false;
        gboolean hasHeight = false;
        gboolean hasBox = false;
        RsvgLength ignored{};
        RsvgRectangle box{};
        rsvg_handle_get_intrinsic_dimensions(svg, &hasWidth, &ignored, &hasHeight, &ignored,
                                             &hasBox, &box);
        if (!hasBox)
            return problem(ErrorKind::Damaged, "its SVG says no size");
        width = box.width;
        height = box.height;
    }
    if (!(width > 0 && height > 0 && width < 1e6 && height < 1e6))
        return problem(ErrorKind::Damaged, "its SVG has no size");
    return std::shared_ptr<const Drawing>(
        std::make_shared<const Svg>(std::move(handle), width, height));
}

Result<std::shared_ptr<const Drawing>> makePicture(const std::string &bytes)
{
    return bytes.starts_with("\x89PNG") ? makePng(bytes) : makeSvg(bytes);
}

} // namespace

} // namespace buttonhole

extern "C" __attribute__((visibility("default"))) const buttonhole::LetteringApi *
buttonholeLettering()
{
    static const buttonhole::LetteringApi api{buttonhole::makeText, buttonhole::makePicture,
                                              buttonhole::makePdfWriter};
    return &api;
}
