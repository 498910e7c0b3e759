#include "job/print.h"

#include "export/export.h"
#include "io/file.h"
#include "io/picture_end.h"
#include "job/deliver.h"
#include "lettering/lettering.h"
#include "render/render.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kMmPerInch = 25.4;
constexpr double kMostMm = 5000; // a side that any printer rolls out
constexpr int kMostPerSide = 20;

/// Of a cell, mm.
std::pair<double, double> cellSize(const PrintPage &page)
{
    const auto side = [&](double whole, int count) {
        return (whole - 2 * page.marginMm - (count - 1) * page.gapMm) / count;
    };
    return {side(page.widthMm, page.columns), side(page.heightMm, page.rows)};
}

} // namespace

std::span<const Paper> papers()
{
    static constexpr Paper kPapers[] = {
        {"A4", 210, 297},         {"A3", 297, 420},         {"A2", 420, 594},
        {"A5", 148, 210},         {"10 × 15 cm", 100, 150}, {"13 × 18 cm", 130, 180},
        {"20 × 30 cm", 200, 300}, {"30 × 40 cm", 300, 400}, {"Letter", 215.9, 279.4}};
    return kPapers;
}

Result<void> checkPage(const PrintPage &page)
{
    const auto wrong = [](const char *what) {
        return Error{ErrorKind::InvalidArgument, "print", what};
    };
    if (!(page.widthMm > 0 && page.widthMm <= kMostMm && page.heightMm > 0 &&
          page.heightMm <= kMostMm))
        return wrong("a page has sides of more than 0 and at most 5000 mm");
    if (page.columns < 1 || page.rows < 1 || page.columns > kMostPerSide ||
        page.rows > kMostPerSide)
        return wrong("there are 1 to 20 pictures to a side of a page");
    if (!(page.marginMm >= 0 && page.gapMm >= 0 && page.longEdgeMm >= 0))
        return wrong("margins, gaps and sizes cannot be negative");
    if (page.dpi < 30 || page.dpi > 2400)
        return wrong("dpi go from 30 to 2400");
    constexpr double kLeastMm = 5;
    if (const auto [width, height] = cellSize(page); width < kLeastMm || height < kLeastMm)
        return wrong("margins and gaps leave no room for pictures: make them smaller");
    return {};
}

PrintPlace placeOn(const PrintPage &page, size_t index, int pxWide, int pxHigh)
{
    const auto [cellWidth, cellHeight] = cellSize(page);
    const size_t cell = index % page.perPage();
    const auto column = double(cell % size_t(page.columns));
    const auto row = double(cell / size_t(page.columns));
    double scale = std::min(cellWidth / pxWide, cellHeight / pxHigh);
    if (page.longEdgeMm > 0)
        scale = std::min(scale, page.longEdgeMm / std::max(pxWide, pxHigh));
    PrintPlace out;
    out.page = index / page.perPage();
    out.width = scale * pxWide;
    out.height = scale * pxHigh;
    out.x = page.marginMm + column * (cellWidth + page.gapMm) + (cellWidth - out.width) / 2;
    out.y = page.marginMm + row * (cellHeight + page.gapMm) + (cellHeight - out.height) / 2;
    return out;
}

Result<PrintPicture> pictureForPrint(const PhotoLevels &levels, const Take &take,
                                     const PrintPage &page, size_t index, const Run &run)
{
    if (auto fine = checkPage(page); !fine)
        return fine.error();
    const auto [width, height] = exportedSize(take, pictureOf(levels, take).rect());
    PrintPicture out;
    out.place = placeOn(page, index, width, height);
    ExportSettings settings;
    settings.space = ExportSettings::Space::Srgb;
    settings.quality = 95;
    settings.carried = Metadata::Carried::Nothing;
    settings.longEdgePx = std::max(
        1, int(std::lround(std::max(out.place.width, out.place.height) / kMmPerInch * page.dpi)));
    const TemporaryFolder folder;
    if (folder.path().empty())
        return systemError("print");
    const std::string file = folder.path() + "/picture.jpg";
    const auto made = exportPicture(levels, take, settings, file, run);
    if (!made)
        return made.error();
    auto jpeg = readFile(file);
    if (!jpeg)
        return jpeg.error();
    out.jpeg = std::move(*jpeg);
    out.pxWide = made->width;
    out.pxHigh = made->height;
    return out;
}

Result<PrintPicture> fileForPrint(const std::string &input, const std::string &take,
                                  const PrintPage &page, size_t index, const Run &run)
{
    const auto from = openTake(input, take, false, run);
    return from ? pictureForPrint(*from->opened.levels, *from->take, page, index, run)
                : from.error();
}

Result<Printed> printPdf(size_t count, const NextPicture &next, const PrintPage &page,
                         const std::string &path, const Run &run)
{
    if (auto fine = checkPage(page); !fine)
        return fine.error();
    const auto lettering = loadLettering();
    if (!lettering)
        return lettering.error();
    Printed out;
    const auto write = [&](const std::string &temporary) -> Result<void> {
        auto pdf = (*lettering)->pdf(temporary);
        if (!pdf)
            return pdf.error();
        std::vector<PdfPicture> pictures;
        for (size_t i = 0; i < count; ++i) {
            Run part = run;
            part.progress = [&](float done) { run.report((float(i) + done) / float(count)); };
            auto picture = next(i, part);
            if (!picture)
                return picture.error();
            const PrintPlace &at = picture->place;
            out.leastDpi = i == 0 ? picture->dpi() : std::min(out.leastDpi, picture->dpi());
            pictures.push_back({at.x, at.y, at.width, at.height, std::move(picture->jpeg),
                                picture->pxWide, picture->pxHigh});
            if (pictures.size() < page.perPage() && i + 1 < count)
                continue;
            if (auto done = (*pdf)->addPage(page.widthMm, page.heightMm, pictures); !done)
                return Error{done.error().kind, path, done.error().detail};
            pictures.clear();
            ++out.pages;
        }
        if (const auto done = (*pdf)->finish(); !done)
            return Error{done.error().kind, path, done.error().detail};
        return checkPictureEnd(temporary);
    };
    if (auto written = writeAtomically(path, write); !written)
        return written.error();
    return out;
}

} // namespace buttonhole
