#pragma once

#include "io/decoded.h"

#include <memory>

namespace buttonhole
{

/// What the loadable module offers: every format beyond JPEG and PNG, by OpenImageIO.
struct FormatsApi {
    Result<Decoded> (*decode)(const std::string &path, const Run &run);
    /// "webp" or "avif", sRGB with 3 or, with alpha last, 4 channels of 8 bits, by quality; the
    /// whole picture is held in memory. Writes to `path` directly.
    Result<std::unique_ptr<PictureWriter>> (*makeLossyWriter)(const std::string &path,
                                                              const PictureSpec &spec,
                                                              const char *format);
    /// TIFF, Deflate-compressed; 1 or 3 channels, 8 or 16 bits. Writes to `path` directly.
    Result<std::unique_ptr<PictureWriter>> (*makeTiffWriter)(const std::string &path,
                                                             const PictureSpec &spec);
};

/// The module, loaded on first use. Errors: NotFound (the installation is incomplete).
Result<const FormatsApi *> loadFormats();

} // namespace buttonhole
