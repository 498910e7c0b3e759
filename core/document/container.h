#pragma once

#include "base/run.h"
#include "document/mask_entries.h"
#include "document/photo_reference.h"
#include "document/take.h"
#include "document/work_lock.h"

#include <map>

namespace buttonhole
{

/// The contents of a .buttonhole file (docs/format.md).
struct Container {
    Work work;
    PhotoReference photo;
    std::string windowJson; ///< the window's own state; the core only keeps it
    std::vector<uint8_t> previewJpeg;
    std::map<std::string, std::vector<uint8_t>> extraEntries; ///< from a newer version, kept
    std::string extraManifestJson;                            ///< likewise
    SavedMasks savedMasks;                                    ///< of the last save in this process
    std::string ownPath; ///< the file that it was read from or saved to last; empty: none
    FileStamp ownStamp;  ///< that file's, as it was then
    std::vector<std::string> notes; ///< after loading or saving: what the user should know
};

/// Reads all but the photo. What would take more memory than any work does (a manifest, take or
/// unknown entries of hundreds of megabytes, thousands of steps) is refused before it is unpacked.
/// Errors: NotFound, NoPermission, Damaged (not a ZIP, broken JSON; the detail names the entry),
/// Newer.
Result<Container> loadContainer(const std::string &path, const Run &run = {});

struct SaveOptions {
    /// The photo's own bytes go in; they do in any case where it has no other home.
    bool packPhoto = false;
    /// The photo's, as it was opened: where it stands otherwise by now, it is compared again.
    FileStamp photoStamp = {};
    /// What the file was written with since it was read, it is replaced all the same.
    bool replacesOther = false;
    /// Of a window that works on `path`; null: it is taken for as long as saving takes.
    std::shared_ptr<const WorkLock> lock = nullptr;
};
/// Writes the container. `container.photo` stays what was known when the photo was opened, but for
/// its place; `notes` receives what the user should know (the photo was replaced on the disk, or
/// could not be packed).
/// Errors: InvalidArgument (`path` is the photo, is not a work's, or its name does not end in
/// .buttonhole), Conflict (somebody else works on it, or it was written to since it was read),
/// NoPermission, NotFound, DiskFull, Io; what stood at `path` is then untouched.
Result<void> saveContainer(Container &container, const std::string &path,
                           const std::string &photoPath, const SaveOptions &options,
                           const Run &run = {});

/// The picture of a work, as JPEG. Errors: those of loadContainer(); NotFound where it has none.
Result<std::vector<uint8_t>> loadPreview(const std::string &path);

/// The photo of a work, without reading the rest. Errors: those of loadContainer().
Result<PhotoReference> loadPhotoReference(const std::string &path);

/// Does the name end in .buttonhole, in any case of letters?
bool isContainerPath(const std::string &path);

} // namespace buttonhole
