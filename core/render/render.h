#pragma once

#include "document/take.h"
#include "io/photo_levels.h"
#include "render/stage_cache.h"
#include "render/view.h"

#include <array>
#include <optional>

namespace buttonhole
{

/// Where pixels go and how they are laid out there.
struct RenderTarget {
    enum class Layout { Rgb8, Rgb16, Bgrx8 } layout = Layout::Rgb8;
    void *pixels = nullptr; ///< of the area's top-left pixel
    size_t strideBytes = 0;
};

/// What View::Pinned shows in the place of a take.
struct Pinned {
    std::shared_ptr<const GreyMix> grey; ///< the same take with this for its grey
    std::shared_ptr<const Take> take;    ///< another one, of the same part of the photo
    explicit operator bool() const { return grey || take; }
};

struct RenderOptions {
    double tintHueDeg = 0; ///< OKLCh hue of Tinted
    Pinned pinned;         ///< of View::Pinned; none: the take's own result
    bool isDraft = false;  ///< local contrast may be measured against an older grey: never waits
    StageCache *cache = nullptr; ///< for renders that will come again; pixels are the same without
    bool passesOnce = false; ///< strip by strip: what is prepared of a tile will not be asked again
    double pxPerDelivered = 1; ///< see Adjustment::overFor()
    Run run = {};
};

/// Photo space and picture space of a take of this photo.
inline PictureMap pictureOf(const PhotoLevels &levels, const Take &take)
{
    return pictureOf(take, levels.photo().width, levels.photo().height);
}

/// Renders `area` (inside pictureOf(...).rect(level)) of a take: a pure function of its arguments,
/// run on all cores. What a pixel comes out as does not depend on the area, so tiles joined are the
/// whole picture bit for bit.
/// Where the mask is full and the output has the photo's profile, codes are the photo's own, unless
/// something changes their light.
/// @param output profile the codes are for (Mask codes are plain coverage)
/// Errors: Cancelled, and what an adjustment may fail by; the target's pixels are open then.
Result<void> renderPicture(const PhotoLevels &levels, const Take &take, View view, int level,
                           const PictureRect &area, const OutputColour &output,
                           const RenderTarget &target, const RenderOptions &options = {});

/// A draft of this take would be exact already: nothing slow is left to do for its grey.
bool isExactAtOnce(const PhotoLevels &levels, const Take &take);

} // namespace buttonhole
