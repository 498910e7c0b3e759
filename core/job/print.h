#pragma once

#include "document/take.h"
#include "io/photo_levels.h"

#include <span>
#include <string>
#include <utility>
#include <vector>

namespace buttonhole
{

struct Paper {
    const char *name; ///< "A4"
    double widthMm;   ///< upright
    double heightMm;
};
/// The usual ones, ISO 216 first.
std::span<const Paper> papers();

/// How pictures lie on paper: in the middle of cells, from left to right, then down.
struct PrintPage {
    double widthMm = 210;
    double heightMm = 297;
    double marginMm = 12; ///< on every side
    int columns = 1;
    int rows = 1;
    double gapMm = 8;      ///< between cells
    double longEdgeMm = 0; ///< of a picture; 0: as large as its cell
    int dpi = 300;         ///< of what is rendered for it; no picture is enlarged for that

    size_t perPage() const { return size_t(columns) * size_t(rows); }
    friend bool operator==(const PrintPage &, const PrintPage &) = default;
};
/// Errors: InvalidArgument, saying what does not fit.
Result<void> checkPage(const PrintPage &page);

/// Where a picture lies, mm from the page's left upper corner.
struct PrintPlace {
    size_t page = 0;
    double x = 0;
    double y = 0;
    double width = 0;
    double height = 0;
};
/// Of the index-th picture, of that many px. `page` was checked.
PrintPlace placeOn(const PrintPage &page, size_t index, int pxWide, int pxHigh);

/// A picture as it is printed.
struct PrintPicture {
    PrintPlace place;
    std::vector<uint8_t> jpeg; ///< sRGB
    int pxWide = 0;
    int pxHigh = 0;
    double dpi() const { return pxWide / (place.width / 25.4); }
};
/// Renders a take for its place, with all that its finish lays round it.
/// Errors: those of exportPicture().
Result<PrintPicture> pictureForPrint(const PhotoLevels &levels, const Take &take,
                                     const PrintPage &page, size_t index, const Run &run = {});
/// The same of a photo or a work. @param take its name; empty: the current one
Result<PrintPicture> fileForPrint(const std::string &input, const std::string &take,
                                  const PrintPage &page, size_t index, const Run &run = {});

/// Hands out the pictures one after the other.
using NextPicture = std::function<Result<PrintPicture>(size_t index, const Run &run)>;

/// What was printed.
struct Printed {
    size_t pages = 0;
    double leastDpi = 0; ///< of the picture that has the fewest
};
/// Writes a PDF (ISO 32000, by cairo). Errors: those of checkPage(), `next` and writeAtomically();
/// what stood at `path` is then untouched.
Result<Printed> printPdf(size_t count, const NextPicture &next, const PrintPage &page,
                         const std::string &path, const Run &run = {});

} // namespace buttonhole
