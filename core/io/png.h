#pragma once

#include "io/decoded.h"

#include <memory>

namespace buttonhole
{

/// Decodes a PNG in memory: any colour type; palettes are expanded, fewer than 8 bits become 8.
/// Errors: Damaged, TooLarge, Cancelled.
Result<Decoded> decodePng(const std::vector<uint8_t> &bytes, const std::string &subject,
                          const Run &run);

/// A PNG's width and height, px, from its header. Errors: Damaged.
Result<std::pair<int64_t, int64_t>> pngSize(const std::vector<uint8_t> &bytes,
                                            const std::string &subject);

/// Encodes to an open file descriptor; grey or RGB, 8 or 16 bits.
Result<std::unique_ptr<PictureWriter>> makePngWriter(int descriptor, const PictureSpec &spec,
                                                     const std::string &subject);

/// A one-channel 16-bit PNG in memory, compressed for speed; used for masks.
Result<std::vector<uint8_t>> encodeGreyPng(const Image<uint16_t> &picture);

} // namespace buttonhole
