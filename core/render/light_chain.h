#pragma once

#include "document/take.h"
#include "light/source.h"
#include "render/stage_cache.h"

namespace buttonhole
{

// Light on its way: photo -> prepare -> grey and keeps -> local tones, each by its mask -> geometry
// -> finish.
// Masks go by the photo as it was taken, whatever is prepared. All that these are given outlives
// what they return; a cache may be null.

/// The photo's light as grey and keeps take it; the photo's own where nothing is prepared.
SourceRef preparedSource(const PhotoLevels &levels, const Take &take, StageCache *cache);
bool isPrepared(const Take &take);

/// Light of what one keep keeps: spilt colour taken out, and its look; `before` where it has
/// neither. With Grey off nothing is blended at its edge, and spill is left alone.
SourceRef keptSource(SourceRef before, const PhotoLevels &levels, const Take &take,
                     const Keep &keep, StageCache *cache);

/// Its light with the glow of keeps and after local tones; `source` itself where there are none.
/// @param isReadAround what reads it looks around
SourceRef tonedSource(SourceRef source, const PhotoLevels &levels, const Take &take,
                      bool isReadAround, StageCache *cache);
/// That after the finish, which looks at the picture: what is cropped away is not there for it. By
/// an exact map in photo space, inside the crop; by another in picture space.
/// @param pxPerDelivered see Adjustment::overFor()
SourceRef finishedSource(SourceRef toned, const PhotoLevels &levels, const PictureMap &map,
                         const Take &take, double pxPerDelivered, StageCache *cache);
bool isFinished(const Take &take); ///< that is another

/// How far a change that touches `dirty` (photo px) of this keep or tone shows, through its own
/// mask and effects and through all that looks around after it; empty: anywhere.
Rect reachedBy(const Take &take, const Keep &keep, const Rect &dirty, const Rect &photo);
Rect reachedBy(const Take &take, const LocalTone &tone, const Rect &dirty, const Rect &photo);
/// The same of whichever line it is; of a removal, only its mask.
Rect reachedBy(const Take &take, const MaskedLine &line, const Rect &dirty, const Rect &photo);

/// Equal for equal grey and keeps over equal light.
uint64_t pictureContent(const Take &take);

} // namespace buttonhole
