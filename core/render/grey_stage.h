#pragma once

#include "render/photo_levels.h"
#include "tone/grey_mixer.h"

namespace buttonhole
{

/// A mixer with all it needs of the whole picture. It and what local contrast is measured against
/// are kept with the levels, so that tiles, strips and sizes of a picture share it. Thread-safe.
/// Levels made flat give the same up to rounding, slowly: they have no small picture to work from.
std::shared_ptr<const GreyMixer> findGreyMixer(const PhotoLevels &levels, const GreyMix &mix);

} // namespace buttonhole
