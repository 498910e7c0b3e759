// A module of its own, loaded when first needed, as io/formats is: Pango and cairo stay behind it.
#include "lettering/lettering.h"
#include "lettering/module/sheet.h"

#include <pango/pangocairo.h>

#include <algorithm>
#include <mutex>

namespace buttonhole
{

Result<std::unique_ptr<PdfWriter>> makePdfWriter(const std::string &file); // pdf.cpp

namespace
{

constexpr uint32_t kMostPngSide = 4000; // px
constexpr double kUnit = 200;           // what text is measured at, px of its font
constexpr const char *kPlainFont = "Inter";

using FontPtr = std::unique_ptr<PangoFontDescription, Freed<pango_font_description_free>>;
using ObjectPtr = std::unique_ptr<void, Freed<g_object_unref>>;

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
    bool isQuick() const override { return true; }
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
    bool isQuick() const override { return false; }
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
        return signatureError(ErrorKind::Damaged, "its PNG is cut off");
    if (bigEndian(bytes, kWidthAt) > kMostPngSide || bigEndian(bytes, kWidthAt + 4) > kMostPngSide)
        return signatureError(ErrorKind::TooLarge,
                              "a PNG for a signature has at most 4000 × 4000 px");
    Bytes from{bytes};
    SurfacePtr read(cairo_image_surface_create_from_png_stream(Bytes::read, &from));
    if (cairo_surface_status(read.get()) != CAIRO_STATUS_SUCCESS)
        return signatureError(ErrorKind::Damaged, "its PNG cannot be read");
    // Of whatever kind it is, from now on it is red, green, blue and alpha.
    const int width = cairo_image_surface_get_width(read.get());
    const int height = cairo_image_surface_get_height(read.get());
    SurfacePtr own(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height));
    const CairoPtr cairo(cairo_create(own.get()));
    cairo_set_source_surface(cairo.get(), read.get(), 0, 0);
    cairo_paint(cairo.get());
    if (cairo_status(cairo.get()) != CAIRO_STATUS_SUCCESS)
        return signatureError(ErrorKind::OutOfMemory, "");
    return std::shared_ptr<const Drawing>(std::make_shared<const Png>(std::move(own)));
}

} // namespace

} // namespace buttonhole

extern "C" __attribute__((visibility("default"))) const buttonhole::LetteringApi *
buttonholeLettering()
{
    static const buttonhole::LetteringApi api{buttonhole::makeText, buttonhole::makePng,
                                              buttonhole::makePdfWriter};
    return &api;
}
