#pragma once

#include "base/result.h"
#include "base/run.h"
#include "raster/image.h"

#include <string>
#include <variant>
#include <vector>

namespace buttonhole
{

inline constexpr int kMaxSide = 65000;            ///< libjpeg's own limit is 65500
inline constexpr size_t kMaxPixels = 400'000'000; ///< 20000 x 20000; 1.2 GB at 8 bits

/// A file's pixels as a codec gives them: turned as stored, 1 to 4 channels, before any profile.
/// CMYK: 0 = no ink. Lab: CIE L*a*b* (D50) at 16 bits, L* times 655.35, a* and b* plus 128 times
/// 257. Alpha is the last channel of 2 or 4 and not multiplied in.
struct Decoded {
    std::variant<Image<uint8_t>, Image<uint16_t>> pixels;
    enum class Channels { Grey, GreyAlpha, Rgb, RgbAlpha, Cmyk, Lab } channels = Channels::Rgb;
    std::vector<uint8_t> icc;
    int fullWidth = 0; ///< where the codec reduced it: of the picture itself
    int fullHeight = 0;
    int orientation = 1;            ///< EXIF 1..8
    double dpi = 0;                 ///< pixels to the inch that the file speaks of; 0: it does not
    float headroomEv = 0;           ///< see Photo
    int sourceBits = 8;             ///< as in the file: 1..16, or 32 for float
    std::string format;             ///< "JPEG", "PNG", ...
    std::vector<std::string> notes; ///< what the user should know, one sentence each
};

/// Follows a picture that is being decoded, to work on rows that are complete while the decoder
/// goes on. Called on the decoder's thread; must return at once, but for end().
class RowFollower
{
public:
    virtual ~RowFollower() = default;
    /// RGB at 8 bits, in the profile `icc` (empty: none). The image stays where it is until end().
    virtual void begin(const Image<uint8_t> &image, const std::vector<uint8_t> &icc) = 0;
    /// Rows above `done` are complete.
    virtual void rows(int done) = 0;
    /// No more rows will come; waits until the image is not read any more.
    virtual void end() = 0;
};

/// TooLarge where a picture is beyond the limits, Damaged where it has no pixels.
Result<void> checkSize(int64_t width, int64_t height, const std::string &subject);

/// How a picture file is written.
struct PictureSpec {
    int width = 0;
    int height = 0;
    int channels = 3; ///< 1, 3 or, with alpha last, 4 (not JPEG)
    int bits = 8;     ///< 8 or 16; JPEG: 8
    int quality = 92; ///< JPEG 1..100
    double dpi = 0;   ///< pixels to the inch, for print; 0: none is told
    std::vector<uint8_t> icc;
};

/// Takes a picture row by row, top to bottom: interleaved uint8 or uint16 as the spec's bits say.
/// Memory does not grow with the picture's height.
class PictureWriter
{
public:
    virtual ~PictureWriter() = default;
    virtual Result<void> writeRows(const void *rows, int count) = 0;
    /// Must be called last; the file is complete only when it succeeded.
    virtual Result<void> finish() = 0;
};

} // namespace buttonhole
