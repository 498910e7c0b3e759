#include "job/opened.h"

#include "export/small_picture.h"

namespace buttonhole
{

Result<Opened> openPath(const std::string &path, const std::string &photoPath, const Run &run,
                        const NeedsLevels &needs)
{
    Opened out;
    std::string photo = path;
    out.inputs = {path};
    if (isContainerPath(path)) {
        auto container = loadContainer(path, run);
        if (!container)
            return container.error();
        out.notes = container->notes;
        if (photoPath.empty()) {
            out.unpacked = std::make_shared<const TemporaryFolder>();
            auto found = findPhoto(container->photo, path, out.unpacked->path() + "/photos", run);
            if (!found)
                return found.error();
            photo = found->path;
            if (!found->note.empty())
                out.notes.push_back(found->note);
        } else {
            photo = photoPath;
            if (!isPhotoOf(container->photo, photo, run))
                out.notes.push_back(photo + " is not the photo that this work was made on: masks "
                                            "may not fit.");
        }
        out.work = container->work;
        out.container = std::move(*container);
    }
    out.inputs.push_back(photo);
    if (!out.container)
        out.work = makeWork();
    auto levels = PhotoLevels::load(
        photo, run, [&](int width, int height) { return needs && needs(out.work, width, height); });
    if (!levels)
        return levels.error();
    out.levels = std::move(*levels);
    const Photo &loaded = out.photo();
    out.notes.insert(out.notes.end(), loaded.notes.begin(), loaded.notes.end());
    if (!out.container) {
        out.work = makeWork(loaded);
    } else if (out.container->photo.width != loaded.width ||
               out.container->photo.height != loaded.height) {
        return Error{ErrorKind::PhotoMissing, photo, "this file has another size in pixels"};
    } else {
        out.work =
            withHeadroom(std::move(out.work), loaded.headroomEv - out.container->photo.headroomEv);
        out.container->photo.headroomEv = loaded.headroomEv;
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

Result<void> saveAs(const std::string &path, const Opened &opened, const Take &take,
                    const PhotoLevels &levels, std::vector<std::string> &notes, const Run &run)
{
    const Photo &photo = opened.photo();
    Container container;
    container.work = {{std::make_shared<const Take>(take)}, 0};
    container.photo = referenceTo(photo);
    if (auto preview = makePreviewJpeg(levels, take, 1024))
        container.previewJpeg = std::move(*preview);
    SaveOptions saving;
    saving.photoStamp = photo.stamp;
    auto saved = saveContainer(container, path, photo.path, saving, run);
    notes = container.notes;
    return saved;
}

} // namespace buttonhole
