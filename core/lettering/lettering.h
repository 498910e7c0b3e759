#pragma once

#include "base/result.h"
#include "lettering/pdf.h"
#include "raster/image.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <string>
#include <utility>

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
    /// It is drawn in less time than anybody notices.
    virtual bool isQuick() const = 0;
    /// sRGB, red, green, blue and alpha, multiplied by alpha; ceil(width * scale) by
    /// ceil(height * scale) px. Errors: TooLarge, BadValue.
    virtual Result<Image<uint8_t>> draw(double scale) const = 0;
};

/// What the loadable module of lettering offers.
struct LetteringApi {
    /// Text as the outlines of a font that is installed; one that is not is replaced.
    /// @param font family and style as Pango words them
    Result<std::shared_ptr<const Drawing>> (*text)(const std::string &text,
                                                   const std::string &font);
    /// A PNG of at most 4000 x 4000 px. Errors: Damaged, TooLarge, OutOfMemory.
    Result<std::shared_ptr<const Drawing>> (*png)(const std::string &bytes);
    Result<std::unique_ptr<PdfWriter>> (*pdf)(const std::string &file);
};

/// The module, loaded on first use. Errors: NotFound (the installation is incomplete).
Result<const LetteringApi *> loadLettering();

constexpr int kMostDrawnSide = 20000;      ///< px: more than any picture needs
constexpr double kMostDrawnPixels = 120e6; ///< the same

/// px of a drawing at that scale.
inline std::pair<double, double> drawnSize(double width, double height, double scale)
{
    const auto px = [&](double units) { return std::max(1.0, std::ceil(units * scale - 1e-6)); };
    return {px(width), px(height)};
}

inline Error signatureError(ErrorKind kind, const char *detail)
{
    return {kind, "signature", detail};
}

/// A PNG of at most 4000 x 4000 px, or an SVG; nothing outside of it is read.
/// Errors: Damaged, BadValue, TooLarge, OutOfMemory; NotFound (the installation is
/// incomplete).
Result<std::shared_ptr<const Drawing>> drawingOfPicture(const std::string &bytes);

/// The drawing of words, or why there is none, kept for the next who asks: see LetteringApi.
/// @param content equal for equal words
Result<std::shared_ptr<const Drawing>> drawingOf(const std::string &text, const std::string &font,
                                                 const std::string &picture, uint64_t content);
/// drawingOf() answers at once.
bool hasDrawing(uint64_t content);

} // namespace buttonhole
