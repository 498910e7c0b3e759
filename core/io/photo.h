#pragma once

#include "base/run.h"
#include "colour/pixel_rows.h"
#include "io/file.h"
#include "io/metadata.h"
#include "raster/image.h"

#include <variant>

namespace buttonhole
{

class RowFollower;

/// Three interleaved channels at 8 or 16 bits: the smallest type that loses nothing of the file.
using PhotoPixels = std::variant<Image<uint8_t>, Image<uint16_t>>;

/// A picture as opened: upright, RGB, in its own profile. Immutable once loaded.
struct Photo {
    std::string path;
    std::string format; ///< "JPEG", "PNG", "TIFF", ...
    uint64_t fileBytes = 0;
    std::string sha256; ///< of the file as it was read, 64 hexadecimal digits
    FileStamp stamp;    ///< of the file as it was read
    int width = 0;
    int height = 0;
    int sourceBits = 8; ///< as in the file; 32 = float
    /// Of a raw photo: so much darker than the camera meant it are the pixels, stops; what is
    /// lighter than its white is there as well.
    float headroomEv = 0;
    double dpi = 0; ///< pixels to the inch that the file speaks of; 0: none
    PhotoPixels pixels;
    Profile profile = Profile::srgb();
    bool hasOwnProfile = false; ///< false: none was embedded (or usable), sRGB was taken
    Metadata metadata;
    std::vector<std::string> notes; ///< what the user should know about the opening

    int bitDepth() const { return pixels.index() == 0 ? 8 : 16; }
    Rect rect() const { return {0, 0, width, height}; }
};

/// Opens a picture file: JPEG, PNG, TIFF, WebP, HEIF, AVIF, camera raw and what else OpenImageIO
/// reads. The file is only read. EXIF orientation is applied; matrix profiles are kept; CMYK, grey
/// and table profiles are converted to sRGB at 16 bits; transparency is laid on white. A JPEG that
/// ends early is opened as far as it goes, with a note, if half of it is there.
/// @param follower may be null; it is told of pictures that need no turning, by the codecs that can
/// Errors: NotFound, NoPermission, NotAPhoto, Damaged, TooLarge, Cancelled.
Result<Photo> loadPhoto(const std::string &path, const Run &run = {},
                        RowFollower *follower = nullptr);

/// A photo at reduced size, for the eye until the whole is there.
struct Glance {
    Photo photo;
    int fullWidth = 0; ///< of the photo itself, upright
    int fullHeight = 0;
};

/// Opens a reduced picture in a fraction of loadPhoto()'s time.
/// @param longEdge px that the reduced picture has at least, unless the photo is smaller
/// Errors: those of loadPhoto(); NotAPhoto also for formats that give no quick one (all but JPEG).
Result<Glance> loadGlance(const std::string &path, int longEdge, const Run &run = {});

/// Turns or mirrors as EXIF orientation 1..8 asks, so that the picture stands upright.
template <class T>
Image<T> oriented(Image<T> image, int orientation);

} // namespace buttonhole
