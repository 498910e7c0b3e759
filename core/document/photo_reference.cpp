#include "document/photo_reference.h"

#include "document/json_text.h"
#include "document/zip.h"
#include "io/photo.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <chrono>
#include <filesystem>

#include <fcntl.h>
#include <unistd.h>

namespace buttonhole
{

namespace fs = std::filesystem;

namespace
{

using nlohmann::json;

bool isDigest(const std::string &text)
{
    return text.size() == 64 && std::all_of(text.begin(), text.end(), [](char c) {
               return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'f');
           });
}

/// The last part of a path as a name that leads nowhere else.
std::string bareName(const std::string &path)
{
    const std::string name = fs::path(path).filename().string();
    return name.empty() || name == "." || name == ".." ? "photo" : name;
}

/// Photos with the reference's size in `folder`, then hashed; one folder below too.
std::optional<std::string> searchFolder(const PhotoReference &reference, const fs::path &folder,
                                        int depth, const Run &run)
{
    std::error_code error;
    std::vector<fs::path> below;
    for (fs::directory_iterator it(folder, fs::directory_options::skip_permission_denied, error),
         end;
         !error && it != end; it.increment(error)) {
        if (run.stopped())
            return std::nullopt;
        std::error_code ignored;
        if (it->is_directory(ignored)) {
            below.push_back(it->path());
        } else if (it->is_regular_file(ignored) && it->file_size(ignored) == reference.bytes &&
                   isPhotoOf(reference, it->path().string(), run)) {
            return it->path().string();
        }
    }
    if (depth > 0)
        for (const fs::path &each : below)
            if (auto found = searchFolder(reference, each, depth - 1, run))
                return found;
    return std::nullopt;
}

/// Photos unpacked long ago, which nobody has opened since, make room.
void clearOld(const fs::path &folder)
{
    constexpr auto kOld = std::chrono::hours(24 * 30);
    std::error_code ignored;
    for (const fs::directory_entry &each : fs::directory_iterator(folder, ignored))
        if (!each.is_symlink(ignored) && isDigest(each.path().filename().string()) &&
            fs::last_write_time(each.path(), ignored) < fs::file_time_type::clock::now() - kOld)
            fs::remove_all(each.path(), ignored);
}

Result<std::string> unpack(const ZipReader &zip, const PhotoReference &reference,
                           const std::string &unpackFolder, const Run &run)
{
    if (auto made = makePrivateFolder(unpackFolder); !made)
        return made.error();
    clearOld(unpackFolder);
    const fs::path folder = fs::path(unpackFolder) / reference.sha256;
    if (auto made = makePrivateFolder(folder.string()); !made)
        return made.error();
    const fs::path to = folder / bareName(reference.relativePath);
    std::error_code ignored;
    if (!fs::is_symlink(to, ignored) && isPhotoOf(reference, to.string(), run)) {
        fs::last_write_time(folder, fs::file_time_type::clock::now(), ignored);
        return to.string();
    }
    fs::remove(to, ignored); // a link, or a file that was cut off
    const auto written = writeAtomically(to.string(), [&](const std::string &temporary) {
        const int fd = ::open(temporary.c_str(), O_WRONLY | O_CLOEXEC | O_NOFOLLOW);
        if (fd < 0)
            return Result<void>(systemError(to.string()));
        Sha256 sum;
        auto done = zip.readPieces(
            packedEntry(reference), reference.bytes,
            [&](const void *data, size_t size) {
                sum.add(data, size);
                return writeAll(fd, data, size, to.string());
            },
            run);
        ::close(fd);
        if (!done && done.error().kind == ErrorKind::TooLarge)
            done = Error{ErrorKind::Damaged, done.error().subject, done.error().detail};
        if (done && sum.hex() != reference.sha256)
            done = Error{ErrorKind::Damaged, packedEntry(reference),
                         "it is not the photo that this work was made on"};
        return done;
    });
    return written ? Result<std::string>(to.string()) : written.error();
}

} // namespace

PhotoReference referenceTo(const Photo &photo)
{
    PhotoReference out;
    out.bytes = photo.fileBytes;
    out.sha256 = photo.sha256;
    out.width = photo.width;
    out.height = photo.height;
    out.headroomEv = photo.headroomEv;
    return out;
}

json referenceToJson(const PhotoReference &reference)
{
    json out{{"bytes", reference.bytes},
             {"sha256", reference.sha256},
             {"width", reference.width},
             {"height", reference.height},
             {"packed", reference.packed}};
    if (reference.headroomEv > 0)
        out["headroomEv"] = reference.headroomEv;
    putPath(out, "path", reference.relativePath);
    return out;
}

Result<PhotoReference> referenceFromJson(const json &in, const std::string &subject)
{
    PhotoReference out;
    out.relativePath = pathFrom(in, "path");
    out.bytes = uint64_t(wholeFrom(in.at("bytes")));
    out.sha256 = in.at("sha256").get<std::string>();
    out.width = int(wholeFrom(in.at("width")));
    out.height = int(wholeFrom(in.at("height")));
    out.headroomEv = std::clamp(in.value("headroomEv", 0.0F), 0.0F, 4.0F);
    out.packed = in.value("packed", false);
    if (!out.sha256.empty() && !isDigest(out.sha256))
        return Error{ErrorKind::Damaged, subject, "the digest of its photo is none"};
    if (out.relativePath.find('\0') != std::string::npos)
        return Error{ErrorKind::Damaged, subject, "the place of its photo is none"};
    return out;
}

std::string packedEntry(const PhotoReference &reference)
{
    const std::string name = bareName(reference.relativePath);
    return "photo/" + (isUtf8(name) ? name : "photo" + endingOf(name));
}

bool isPhotoOf(const PhotoReference &reference, const std::string &file, const Run &run)
{
    const auto size = fileSize(file);
    if (!size || *size != reference.bytes || reference.sha256.empty())
        return false;
    const auto hash = sha256OfFile(file, run);
    return hash && *hash == reference.sha256;
}

bool isUnpacked(const PhotoReference &reference, const std::string &photoPath)
{
    return !reference.sha256.empty() &&
           fs::path(photoPath).parent_path().filename() == reference.sha256;
}

Result<FoundPhoto> findPhoto(const PhotoReference &reference, const std::string &path,
                             const std::string &unpackFolder, const Run &run)
{
    std::error_code ignored;
    const fs::path folder = fs::absolute(path).parent_path();
    const fs::path own = fs::weakly_canonical(fs::absolute(path), ignored).parent_path();
    const std::string atPlace = (folder / reference.relativePath).lexically_normal().string();
    for (const std::string &place :
         {atPlace, (own / reference.relativePath).lexically_normal().string()})
        if (isPhotoOf(reference, place, run))
            return FoundPhoto{place, {}};
    if (run.stopped())
        return Error{ErrorKind::Cancelled, path, {}};
    std::optional<Error> problem;
    if (reference.packed && !reference.sha256.empty()) {
        const auto zip = ZipReader::open(path);
        if (!zip)
            return zip.error();
        auto unpacked = unpack(*zip, reference, unpackFolder, run);
        if (unpacked)
            return FoundPhoto{std::move(*unpacked), {}};
        problem = unpacked.error(); // unless it lies somewhere else
    }
    if (const auto found = searchFolder(reference, folder, 1, run))
        return FoundPhoto{*found, "The photo was found again as " + *found + "."};
    if (problem)
        return *problem;
    if (fs::is_regular_file(atPlace, ignored))
        return FoundPhoto{atPlace,
                          "The photo " + atPlace +
                              " is not as it was when this work was saved: masks may not fit."};
    return Error{ErrorKind::PhotoMissing, atPlace, {}};
}

} // namespace buttonhole
