#pragma once

#include "export/mount.h"
#include "io/decoded.h"

#include <memory>

namespace buttonhole
{

/// Takes the rows of the picture and hands those of all that leaves to another writer, which gets
/// four channels where the spec says so (colours not multiplied by alpha), else what shines through
/// is white. Both outlive it.
/// @param spec of what leaves
std::unique_ptr<PictureWriter> makeMountedWriter(const Mount &mount, const PictureSpec &spec,
                                                 PictureWriter &to);

} // namespace buttonhole
