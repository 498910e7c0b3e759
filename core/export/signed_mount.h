#pragma once

#include "export/mount.h"
#include "io/photo_levels.h"

namespace buttonhole
{

/// What the picture is under a signature, the mean of its OKLab L.
/// @param mount signed; what lies on the frame has no ground of the picture's
/// Errors: those of renderPicture().
Result<float> groundUnder(const PhotoLevels &levels, const Take &take, const Mount &mount,
                          const Run &run = {});

/// The mount of a take as it leaves: signed, in the ink that stands out.
/// @param width,height px of the picture as it is delivered
/// Errors: those of Mount::sign(), Stamp::drawAt() and groundUnder().
Result<Mount> signedMount(const PhotoLevels &levels, const Take &take, int width, int height,
                          const OutputColour &output, const Run &run = {});

/// A signature of the take looks at what lies under it, on coarser levels of the picture.
bool looksAtGround(const Take &take);

} // namespace buttonhole
