#include "opened.h"

#include <cstdlib>
#include <filesystem>

#include <unistd.h>

namespace buttonhole::cli
{

Result<Opened> open(const std::string &path, const std::string &photoPath, const Run &run)
{
    Opened out;
    std::string photo = path;
    if (isContainerPath(path)) {
        auto container = loadContainer(path, run);
        if (!container)
            return container.error();
        if (photoPath.empty()) {
            const std::string unpack = (std::filesystem::temp_directory_path() /
                                        ("buttonhole-" + std::to_string(::getuid())))
                                           .string();
            auto found = findPhoto(*container, path, unpack, run);
            if (!found)
                return found.error();
            photo = std::move(*found);
        } else {
            photo = photoPath;
        }
        out.notes = container->notes;
        out.work = container->work;
        out.container = std::move(*container);
    }
    auto loaded = loadPhoto(photo, run);
    if (!loaded)
        return loaded.error();
    out.notes.insert(out.notes.end(), loaded->notes.begin(), loaded->notes.end());
    out.photo = std::make_shared<const Photo>(std::move(*loaded));
    if (!out.container) {
        out.work = makeWork();
    } else if (out.container->photo.width != out.photo->width ||
               out.container->photo.height != out.photo->height) {
        return Error{ErrorKind::PhotoMissing, photo, "this file has another size in pixels"};
    }
    return out;
}

Result<std::shared_ptr<const Take>> findTake(const Work &work, const std::string &name)
{
    if (name.empty())
        return work.takes[work.current];
    std::string known;
    for (const auto &take : work.takes) {
        if (take->name == name)
            return take;
        known += (known.empty() ? "" : ", ") + take->name;
    }
    return Error{ErrorKind::NotFound, "take \"" + name + "\"", "there are: " + known};
}

} // namespace buttonhole::cli
