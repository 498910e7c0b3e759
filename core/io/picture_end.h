#pragma once

#include "base/result.h"

#include <string>

namespace buttonhole
{

/// Is a picture that was written there to its end? Goes by its structure (JPEG's last marker, PNG's
/// last chunk, the sizes that RIFF, ISO-BMFF, TIFF, ZIP and PDF tell of themselves), reads a few kB
/// and decodes nothing. Of a kind that it does not know it says yes.
/// Errors: Damaged, those of opening.
Result<void> checkPictureEnd(const std::string &path);

} // namespace buttonhole
