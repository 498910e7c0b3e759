#pragma once

#include "base/run.h"
#include "mask/picture_step.h"

namespace buttonhole
{

/// Reads a grey picture (8 or 16 bits; of a colour picture the green channel) as a mask of the
/// photo's size: black = grey, white = stays in colour. Codes are coverage, no transfer function.
/// Errors: those of loading a picture, InvalidArgument (another size than width x height).
Result<std::shared_ptr<const StepShape>> loadMaskPicture(const std::string &path, int width,
                                                         int height, const Run &run = {});

} // namespace buttonhole
