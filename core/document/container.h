#pragma once

#include "base/run.h"
#include "document/take.h"
#include "io/photo.h"

#include <map>

namespace buttonhole
{

/// Where a .buttonhole file's photo is and how it is known again.
struct PhotoReference {
    std::string relativePath; ///< from the .buttonhole file's folder
    uint64_t bytes = 0;
    std::string sha256;
    int width = 0; ///< upright, px
    int height = 0;
    bool packed = false; ///< the original is inside the file
};

/// Which entries of a file hold the masks of which shapes: shapes never change, so that saving
/// again copies those of old ones instead of encoding them anew.
struct SavedMasks {
    std::string path;
    uint64_t bytes = 0;                                      ///< the file's, as it was written
    int64_t changed = 0;                                     ///< the same of its time
    std::map<std::pair<uint64_t, int>, std::string> entries; ///< content id, place in the shape
};

/// The contents of a .buttonhole file (docs/format.md).
struct Container {
    Work work;
    PhotoReference photo;
    std::string windowJson; ///< the window's own state; the core only keeps it
    std::vector<uint8_t> previewJpeg;
    std::map<std::string, std::vector<uint8_t>> extraEntries; ///< from a newer version, kept
    std::string extraManifestJson;                            ///< likewise
    SavedMasks savedMasks;                                    ///< of the last save in this process
    std::vector<std::string> notes; ///< after loading: what the user should know
};

/// Reads all but the photo. Errors: NotFound, NoPermission, Damaged (not a ZIP, broken JSON; the
/// detail names the entry), Newer.
Result<Container> loadContainer(const std::string &path, const Run &run = {});

/// Finds the photo of a container: at its relative path, packed inside (then unpacked into
/// `unpackFolder`), or under any name in the container's folder or one folder below, known by size
/// and SHA-256. A photo at its place whose contents changed is accepted with a note.
/// Errors: PhotoMissing.
Result<std::string> findPhoto(Container &container, const std::string &path,
                              const std::string &unpackFolder, const Run &run = {});
/// Is this file the photo that the reference means (size and SHA-256)?
bool isPhotoOf(const PhotoReference &reference, const std::string &file);

struct SaveOptions {
    bool packPhoto = false;
};
/// Writes the container and brings `container.photo` up to date with `photoPath`.
/// Errors: InvalidArgument (`path` is the photo), NoPermission, NotFound, DiskFull, Io; what stood
/// at `path` is then untouched.
Result<void> saveContainer(Container &container, const std::string &path,
                           const std::string &photoPath, const SaveOptions &options,
                           const Run &run = {});

/// Does the name end in .buttonhole?
bool isContainerPath(const std::string &path);

} // namespace buttonhole
