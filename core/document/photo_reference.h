#pragma once

#include "base/result.h"
#include "base/run.h"
#include "io/file.h"

#include <nlohmann/json_fwd.hpp>

#include <optional>
#include <string>
#include <vector>

namespace buttonhole
{

struct Photo;

/// Where a .buttonhole file's photo is and how it is known again.
struct PhotoReference {
    std::string relativePath; ///< from the .buttonhole file's folder; bytes, UTF-8 or not
    uint64_t bytes = 0;
    std::string sha256; ///< 64 hexadecimal digits, lower case; empty: not known
    int width = 0;      ///< upright, px
    int height = 0;
    float headroomEv = 0; ///< of the photo, as it was opened first
    bool packed = false;  ///< the original is inside the file
};

/// The reference to a photo as it was opened; its place is told by saveContainer().
PhotoReference referenceTo(const Photo &photo);

nlohmann::json referenceToJson(const PhotoReference &reference);
/// Errors: Damaged (a digest that is none, a size beyond any photo's); throws what JSON does.
Result<PhotoReference> referenceFromJson(const nlohmann::json &in, const std::string &subject);

/// The entry that holds the photo of this reference, where it is packed. Its last part is a bare
/// name: no folder, no way up.
std::string packedEntry(const PhotoReference &reference);

/// Is this file the photo that the reference means (size and SHA-256)?
bool isPhotoOf(const PhotoReference &reference, const std::string &file, const Run &run = {});

/// Was this photo unpacked by findPhoto()? Then the file that it came out of is its only home.
bool isUnpacked(const PhotoReference &reference, const std::string &photoPath);

/// Where a photo was found, and what the user should know of that.
struct FoundPhoto {
    std::string path;
    std::string note; ///< empty: nothing
};
/// Finds the photo of a .buttonhole file: at its relative path, packed inside (then unpacked into
/// `unpackFolder`, which only the user can look into, and checked before it gets its name), or
/// under any name in the file's folder or one folder below, known by size and SHA-256. A photo at
/// its place whose contents changed is accepted with a note. Errors: PhotoMissing, Cancelled;
/// unpacking: DiskFull, NoPermission, Damaged, TooLarge.
Result<FoundPhoto> findPhoto(const PhotoReference &reference, const std::string &path,
                             const std::string &unpackFolder, const Run &run = {});

} // namespace buttonhole
