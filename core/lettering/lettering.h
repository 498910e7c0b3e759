#pragma once

#include "base/result.h"
#include "lettering/pdf.h"
#include "raster/image.h"

#include <memory>
#include <string>

namespace buttonhole
{

/// Something drawn by outlines, or a small picture, to be had at any size. Any thread.
class Drawing
{
public:
    virtual ~Drawing() = default;
    Drawing() = default;
    Drawing(const Drawing &) = delete;
    Drawing &operator=(const Drawing &) = delete;

    // Of what is inked, in units of its own.
    virtual double width() const = 0;
    virtual double height() const = 0;
    /// What its size goes by: of text the height of a line.
    virtual double lineHeight() const = 0;
    /// It has colours, not only a shape.
    virtual bool hasColours() const = 0;
    /// sRGB, red, green, blue and alpha, multiplied by alpha; ceil(width * scale) by
    /// ceil(height * scale) px. Errors: TooLarge, Damaged.
    virtual Result<Image<uint8_t>> draw(double scale) const = 0;
};

/// What the loadable module of lettering offers.
struct LetteringApi {
    /// Text as the outlines of a font that is installed; one that is not is replaced.
    /// @param font family and style as Pango words them
    Result<std::shared_ptr<const Drawing>> (*text)(const std::string &text,
                                                   const std::string &font);
    /// A PNG of at most 4000 x 4000 px, or an SVG; nothing outside of it is read.
    /// Errors: Damaged, Unsupported, TooLarge.
    Result<std::shared_ptr<const Drawing>> (*picture)(const std::string &bytes);
    Result<std::unique_ptr<PdfWriter>> (*pdf)(const std::string &file);
};

/// The module, loaded on first use. Errors: NotFound (the installation is incomplete).
Result<const LetteringApi *> loadLettering();

/// The drawing of words, kept for the next who asks: see LetteringApi.
/// @param content equal for equal words
Result<std::shared_ptr<const Drawing>> drawingOf(const std::string &text, const std::string &font,
                                                 const std::string &picture, uint64_t content);
/// It is there already: to be had at once.
bool hasDrawing(uint64_t content);

} // namespace buttonhole
