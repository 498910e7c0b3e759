#pragma once

#include "io/decoded.h"

#include <memory>

namespace buttonhole
{

/// Decodes a JPEG in memory. Grey, RGB (from YCbCr too) or CMYK (from YCCK too).
/// @param follower may be null; it is told of RGB pictures only
/// @param longEdge not 0: reduced to 1/2, 1/4 or 1/8 in the frequency domain, which is far less
///                 work, as long as the long edge stays at least this
/// Errors: Damaged (also when cut off: nothing is filled in silently), TooLarge, Cancelled.
Result<Decoded> decodeJpeg(const std::vector<uint8_t> &bytes, const std::string &subject,
                           const Run &run, RowFollower *follower = nullptr, int longEdge = 0);

/// Encodes to an open file descriptor: 4:4:4, since halved chroma would soften the edges of what
/// stays in colour; optimised Huffman tables only below 1 megapixel (they need a second pass).
/// Errors of writing (DiskFull, Io) come back from writeRows() and finish().
Result<std::unique_ptr<PictureWriter>> makeJpegWriter(int descriptor, const PictureSpec &spec,
                                                      const std::string &subject);
/// The same into memory.
Result<std::vector<uint8_t>> encodeJpeg(const Image<uint8_t> &picture, const PictureSpec &spec);

} // namespace buttonhole
