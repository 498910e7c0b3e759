#pragma once

#include "document/same_again.h"
#include "job/delivery.h"
#include "job/opened.h"
#include "job/output_guard.h"

namespace buttonhole
{

/// One photo's way out.
struct Delivered {
    std::string path;
    int width = 0;
    int height = 0;
    uint64_t bytes = 0;
    std::vector<std::string> masks; ///< paths
    /// Files that were read, as they were before.
    std::vector<std::pair<std::string, FileStamp>> read;
    CarryReport carried; ///< of presets
    std::vector<std::string> notes;
};

/// A take with what it is rendered from.
struct OpenedTake {
    Opened opened;
    std::shared_ptr<const Take> take;
};
/// Of a photo or a work. @param name of the take; empty: the current one
/// @param isWhole smaller levels will be asked for, whatever the take needs
Result<OpenedTake> openTake(const std::string &input, const std::string &name, bool isWhole,
                            const Run &run);

/// How a take's picture is exported: the size by the delivery's rule.
ExportSettings settingsFor(const PhotoLevels &levels, const Take &take, const Delivery &delivery);

/// Puts presets onto a take and writes its picture, and its masks where they are asked for. Masks
/// take the place of others where the picture does, and get other names where it does not.
/// @param path with the ending of the delivery's format
/// @param guard of what no file may be written to; the photo itself never is
/// Errors: those of exportPicture() and withPresetOn().
Result<Delivered> deliver(const PhotoLevels &levels, Take take, const std::vector<Preset> &presets,
                          bool placesAll, const Delivery &delivery, const OutputPath &path,
                          const Run &run = {}, const OutputGuard &guard = {});

/// The same of a file, from opening it. @param take its name; empty: the current one
Result<Delivered> deliverFile(const std::string &input, const std::string &take,
                              const std::vector<Preset> &presets, bool placesAll,
                              const Delivery &delivery, const OutputPath &path, const Run &run = {},
                              OutputGuard guard = {});

/// A take's picture looks at smaller levels of its photo, not at the full size alone.
bool needsLevels(const Take &take);

} // namespace buttonhole
