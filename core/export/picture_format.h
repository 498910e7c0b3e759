#pragma once

#include "base/result.h"

#include <string>

namespace buttonhole
{

enum class PictureFormat { Jpeg, Png, Tiff, WebP, Avif, OpenRaster };
inline constexpr int kPictureFormats = 6;

/// What there is to know of a format.
struct FormatFacts {
    const char *name;   ///< "JPEG"
    const char *ending; ///< with its dot
    bool isLossy;       ///< quality counts
    int mostBits;
    bool holdsAlpha;
    bool isSrgb;        ///< always: its files tell no profile
    bool holdsMetadata; ///< as can be written, as yet
    bool hasLayers;     ///< of the picture's own size
};
const FormatFacts &factsOf(PictureFormat format);

/// The format a file name asks for (.jpg .jpeg .png .tif .tiff .webp .avif .ora, any case).
/// Errors: InvalidArgument.
Result<PictureFormat> formatFromPath(const std::string &path);

std::string endingFor(PictureFormat format); ///< with its dot
/// The path with an ending that fits the format: one of another format is replaced, what is no
/// format's ("v1.2") stays and is added to.
std::string withEnding(const std::string &path, PictureFormat format);

} // namespace buttonhole
