#pragma once

#include "document/take.h"
#include "export/picture_format.h"
#include "io/file.h"
#include "io/metadata.h"
#include "io/photo_levels.h"

namespace buttonhole
{

struct ExportSettings {
    using Format = PictureFormat;
    Format format = Format::Jpeg;
    enum class Space { Photo, Srgb } space = Space::Photo; ///< the profile the file is in
    int quality = 92;                                      ///< of what loses detail, 1..100
    int bits = 8;                                          ///< 8, or 16 for PNG and TIFF
    int longEdgePx = 0; ///< 0 = the size it is delivered in; never enlarges
    float sharpen = 0;  ///< 0..1: for the size that it leaves in, after it was made smaller
    bool signs = true;  ///< with the take's signature
    bool stripLocation = false;
    Metadata::Carried carried = Metadata::Carried::All;
    std::string copyright; ///< in the place of what the photo says; empty: that
    std::string description;
    friend bool operator==(const ExportSettings &, const ExportSettings &) = default;
};

/// The size of all that leaves, px: of the picture, its own or what was asked for, and its frame.
/// @param longEdgePx see ExportSettings
std::pair<int, int> exportedSize(const Take &take, const PictureRect &picture, int longEdgePx = 0);

struct ExportedPicture {
    int width = 0;
    int height = 0;
    uint64_t bytes = 0;
};

/// Renders a take's picture at full size and writes it, with EXIF, XMP, IPTC and the profile
/// carried over. Streams strips: rendering and encoding overlap; memory does not grow with the
/// picture beyond the photo itself.
/// Errors: InvalidArgument (settings; `path` is the opened photo, or its ending another format's),
/// NoPermission, NotFound, DiskFull, Conflict, Cancelled; what stood at `path` is then untouched.
Result<ExportedPicture> exportPicture(const PhotoLevels &levels, const Take &take,
                                      const ExportSettings &settings, const OutputPath &path,
                                      const Run &run = {});

/// The size an export will have, found by encoding it to memory.
Result<ExportedPicture> measureExport(const PhotoLevels &levels, const Take &take,
                                      const ExportSettings &settings, const Run &run = {});

} // namespace buttonhole
