#pragma once

#include "io/photo_levels.h"
#include "light/source.h"
#include "tone/grey_mixer.h"

namespace buttonhole
{

/// A mixer with all it needs of the whole picture. It and what local contrast is measured against
/// are kept with the levels, so that tiles, strips and sizes of a picture share it. Thread-safe.
/// @param prepared light that is made grey; null: the photo's own
/// Levels made flat give the same up to rounding, slowly: they have no small picture to work from.
std::shared_ptr<const GreyMixer> findGreyMixer(const PhotoLevels &levels, const GreyMix &mix,
                                               const Source *prepared = nullptr);

/// A mixer that is there at once, for a first look: local contrast is measured against what the
/// last mix had for it, or left out. Its greyContent() is another than the mix's.
std::shared_ptr<const GreyMixer> draftGreyMixer(const PhotoLevels &levels, const GreyMix &mix,
                                                const Source *prepared = nullptr);

/// findGreyMixer() has nothing slow to do.
bool isGreyReady(const PhotoLevels &levels, const GreyMix &mix, const Source *prepared = nullptr);

} // namespace buttonhole
