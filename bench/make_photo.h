#pragma once

#include "io/photo.h"

namespace buttonhole::bench
{

/// A photograph-like test picture of about `megapixels`: a demo photo enlarged bilinearly with
/// sensor-like noise added (fixed seed), so that codecs work as hard as on a real one.
Image<uint8_t> makePicture(const std::string &demoPhoto, double megapixels);

/// The same written as a JPEG of quality 92 into the temporary folder, once for each
/// demo photo and size; gives its path.
std::string makePhotoFile(const std::string &demoPhoto, double megapixels);

} // namespace buttonhole::bench
