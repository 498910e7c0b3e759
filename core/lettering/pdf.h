#pragma once

#include "base/result.h"

#include <cstdint>
#include <vector>

namespace buttonhole
{

/// A picture on a page, mm from the page's left upper corner.
struct PdfPicture {
    double x = 0;
    double y = 0;
    double width = 0;
    double height = 0;
    std::vector<uint8_t> jpeg; ///< sRGB; goes into the file as it is
    int pxWide = 0;
    int pxHigh = 0;
};

/// Writes a PDF page by page.
class PdfWriter
{
public:
    PdfWriter() = default;
    virtual ~PdfWriter() = default;
    PdfWriter(const PdfWriter &) = delete;
    PdfWriter &operator=(const PdfWriter &) = delete;
    /// Of that size, mm. Errors: Io, DiskFull, OutOfMemory.
    virtual Result<void> addPage(double width, double height,
                                 const std::vector<PdfPicture> &pictures) = 0;
    /// Must be called last. Errors: the same.
    virtual Result<void> finish() = 0;
};

} // namespace buttonhole
