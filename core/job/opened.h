#pragma once

#include "document/container.h"
#include "io/photo_levels.h"

#include <functional>
#include <optional>

namespace buttonhole
{

/// A photo, or a .buttonhole file together with its photo.
struct Opened {
    std::optional<Container> container;
    Work work; ///< of the container, or a fresh one
    std::shared_ptr<const PhotoLevels> levels;
    std::vector<std::string> notes;
    std::vector<std::string> inputs;                 ///< files read: nothing may be written to them
    std::shared_ptr<const TemporaryFolder> unpacked; ///< holds a photo that came out of its work

    const Photo &photo() const { return levels->photo(); }
};

/// Whether more than a photo's full size will be needed; asked before it is decoded, with its size.
/// @param work of the container, or a fresh one
using NeedsLevels = std::function<bool(const Work &work, int width, int height)>;
inline bool needsAllLevels(const Work &, int, int)
{
    return true;
}

/// @param photoPath where the photo is, if not where the .buttonhole file says; may be empty
/// @param needs none: the full size does
Result<Opened> openPath(const std::string &path, const std::string &photoPath, const Run &run,
                        const NeedsLevels &needs = {});

/// The take of that name; the current one for an empty name. Errors: NotFound.
Result<std::shared_ptr<const Take>> findTake(const Work &work, const std::string &name);

/// Makes a .buttonhole file of a take. Errors: those of saveContainer().
Result<void> saveAs(const std::string &path, const Opened &opened, const Take &take,
                    const PhotoLevels &levels, std::vector<std::string> &notes, const Run &run);

} // namespace buttonhole
