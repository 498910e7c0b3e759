#pragma once

#include "export/export.h"
#include "export/mount.h"
#include "render/stage_cache.h"

namespace buttonhole
{

class PictureWriter;
class Thumbnail;
struct PictureSpec;
struct RenderOptions;

/// One picture on its way out.
struct PictureOrder {
    const PhotoLevels &levels;
    const Take &take;
    const ExportSettings &settings;
    std::string subject; ///< of errors
    Run run;
    OutputColour output;
    PictureRect picture;
    Thumbnail *thumbnail = nullptr; ///< gathers one on the way

    /// Of the picture without what lies round it, px.
    std::pair<int, int> size() const;
    Mount mount() const
    {
        const auto [width, height] = size();
        return {take, width, height, output};
    }
    /// Of each of its strips. @param cache null where the take looks at no tiles around
    RenderOptions renderOptions(StageCache *cache) const;
};

/// @param take outlives the order
PictureOrder orderOf(const PhotoLevels &levels, const Take &take, const ExportSettings &settings,
                     const std::string &subject, const Run &run);

/// Errors: InvalidArgument.
Result<void> checkSettings(const ExportSettings &settings, const std::string &subject);

/// Growing, feathering and the finish look at the tiles around.
bool looksAround(const PhotoLevels &levels, const Take &take);

/// What is told to a codec of a picture with that mount.
PictureSpec specOf(const PictureOrder &order, const Mount &mount);

/// Renders into a codec's writer, through what the size, the sharpness and the mount ask for.
/// @param mount signed. Errors: those of the writer and of renderPicture().
Result<void> renderThrough(PictureWriter &codec, const PictureSpec &spec, const Mount &mount,
                           const PictureOrder &order);

} // namespace buttonhole
