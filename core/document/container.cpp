#include "document/container.h"

#include "document/json_text.h"
#include "document/take_json.h"
#include "io/decoded.h"
#include "io/file.h"
#include "io/photo.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <filesystem>
#include <set>

namespace buttonhole
{

namespace fs = std::filesystem;

namespace
{

using nlohmann::json;

constexpr const char *kMimeType = "application/x-buttonhole";
constexpr const char *kManifest = "buttonhole.json";
constexpr const char *kPreview = "preview.jpg";
constexpr const char *kEnding = ".buttonhole";

// Beyond these a file was not made by working on a photo.
constexpr uint64_t kMostJson = uint64_t(64) << 20;     ///< bytes of a manifest or take
constexpr uint64_t kMostPreview = uint64_t(16) << 20;  ///< bytes
constexpr uint64_t kMostUnknown = uint64_t(256) << 20; ///< bytes of all entries that are not known
constexpr size_t kMostTakes = 500;
constexpr size_t kMostSteps = 5000; ///< in all takes

Result<json> readJson(const ZipReader &zip, const std::string &name, const std::string &path)
{
    const auto bytes = zip.read(name, kMostJson);
    if (!bytes && bytes.error().kind == ErrorKind::TooLarge)
        return bytes.error();
    if (!bytes)
        return Error{ErrorKind::Damaged, path, name + " is missing or broken"};
    auto parsed =
        jsonFromText({reinterpret_cast<const char *>(bytes->data()), bytes->size()}, path);
    if (!parsed)
        return Error{ErrorKind::Damaged, path, name + ": " + parsed.error().detail};
    return parsed;
}

size_t countSteps(const json &take)
{
    size_t steps = 0;
    for (const char *list : {"keeps", "tones", "removals"})
        for (const json &mask : take.value(list, json::array()))
            steps += 1 + (mask.is_object() ? mask.value("steps", json::array()).size() : 0);
    return steps;
}

/// Would a program that unpacks the file put this entry outside of the folder it unpacks to?
bool leadsOut(const std::string &name)
{
    const fs::path path(name);
    return path.is_absolute() || name.find('\\') != std::string::npos ||
           std::find(path.begin(), path.end(), "..") != path.end();
}

/// Entries of newer versions are kept.
Result<void> readUnknown(const ZipReader &zip, const std::set<std::string> &used, Container &out)
{
    uint64_t room = kMostUnknown;
    for (const std::string &name : zip.names()) {
        if (used.count(name) || name.empty() || name.back() == '/' || leadsOut(name))
            continue;
        auto bytes = zip.read(name, room);
        if (!bytes && bytes.error().kind == ErrorKind::TooLarge)
            return bytes.error();
        if (!bytes)
            continue;
        room -= bytes->size();
        out.extraEntries.emplace(name, std::move(*bytes));
    }
    return {};
}

Result<void> readTakes(const ZipReader &zip, const json &manifest, const std::string &path,
                       Container &out, std::set<std::string> &used)
{
    if (manifest.at("takes").size() > kMostTakes)
        return Error{ErrorKind::Damaged, path, "it holds more takes than anybody makes"};
    size_t steps = 0;
    for (const json &entry : manifest.at("takes")) {
        const std::string name = entry.get<std::string>();
        const auto parsed = readJson(zip, name, path);
        if (!parsed)
            return parsed.error();
        used.insert(name);
        steps += countSteps(*parsed);
        if (steps > kMostSteps)
            return Error{ErrorKind::Damaged, path, "it holds more steps than anybody makes"};
        ZipMaskReader reader(zip, fs::path(name).parent_path().string() + "/", used);
        reader.width = out.photo.width;
        reader.height = out.photo.height;
        auto take = takeFromJson(*parsed, reader);
        out.notes.insert(out.notes.end(), reader.notes.begin(), reader.notes.end());
        if (!take)
            return Error{take.error().kind == ErrorKind::Newer ? ErrorKind::Newer
                                                               : ErrorKind::Damaged,
                         path, name + ": " + take.error().subject + ": " + take.error().detail};
        out.work.takes.push_back(std::make_shared<const Take>(std::move(*take)));
    }
    if (out.work.takes.empty())
        return Error{ErrorKind::Damaged, path, "it holds no take"};
    out.work.current =
        std::min(size_t(wholeFrom(manifest, "current", 0)), out.work.takes.size() - 1);
    return {};
}

Result<Container> readContainer(const ZipReader &zip, const std::string &path)
{
    const auto manifest = readJson(zip, kManifest, path);
    if (!manifest)
        return manifest.error();
    if (manifest->value("format", "") != "buttonhole")
        return Error{ErrorKind::Damaged, path, "it is not a .buttonhole file"};
    if (wholeFrom(*manifest, "readableFrom", 1) > kTakeVersion)
        return Error{ErrorKind::Newer, path, {}};
    Container out;
    auto reference = referenceFromJson(manifest->at("photo"), path);
    if (!reference)
        return reference.error();
    out.photo = std::move(*reference);
    if (const auto fits = checkSize(out.photo.width, out.photo.height, path); !fits)
        return Error{ErrorKind::Damaged, path, "its photo's size is wrong"};
    std::set<std::string> used{"mimetype", kManifest, kPreview};
    if (out.photo.packed)
        used.insert(packedEntry(out.photo));
    if (const auto takes = readTakes(zip, *manifest, path, out, used); !takes)
        return takes.error();
    out.windowJson = manifest->value("window", json::object()).dump();
    if (zip.contains(kPreview))
        if (auto preview = zip.read(kPreview, kMostPreview))
            out.previewJpeg = std::move(*preview);
    json extra = *manifest;
    for (const char *own :
         {"format", "version", "readableFrom", "photo", "takes", "current", "window"})
        extra.erase(own);
    if (!extra.empty())
        out.extraManifestJson = extra.dump();
    if (auto read = readUnknown(zip, used, out); !read)
        return read.error();
    return out;
}

} // namespace

Result<std::vector<uint8_t>> loadPreview(const std::string &path)
{
    const auto zip = ZipReader::open(path);
    if (!zip)
        return zip.error();
    return zip->read(kPreview, kMostPreview);
}

Result<PhotoReference> loadPhotoReference(const std::string &path)
{
    const auto zip = ZipReader::open(path);
    if (!zip)
        return zip.error();
    const auto manifest = readJson(*zip, kManifest, path);
    if (!manifest)
        return manifest.error();
    try {
        return referenceFromJson(manifest->at("photo"), path);
    } catch (const json::exception &problem) {
        return Error{ErrorKind::Damaged, path, std::string(kManifest) + ": " + inWords(problem)};
    }
}

bool isContainerPath(const std::string &path)
{
    return endingOf(path) == kEnding;
}

Result<Container> loadContainer(const std::string &path, const Run &run)
{
    const FileStamp stamp = stampOf(path);
    const auto zip = ZipReader::open(path);
    if (!zip)
        return zip.error();
    if (run.stopped())
        return Error{ErrorKind::Cancelled, path, {}};
    try {
        auto container = readContainer(*zip, path);
        if (!container && container.error().kind == ErrorKind::TooLarge)
            return Error{ErrorKind::Damaged, path,
                         container.error().detail + ": more than any work holds"};
        if (container) {
            container->ownPath = path;
            container->ownStamp = stamp;
        }
        return container;
    } catch (const json::exception &problem) {
        return Error{ErrorKind::Damaged, path, std::string(kManifest) + ": " + inWords(problem)};
    }
}

namespace
{

/// Refuses to write where something else stands than the work that was read.
Result<void> checkTarget(const Container &container, const std::string &path,
                         const std::string &photoPath, const SaveOptions &options)
{
    if (!isContainerPath(path))
        return Error{ErrorKind::InvalidArgument, path, "its name must end in .buttonhole"};
    if (auto fine = checkIsNotPhoto(path, photoPath); !fine)
        return fine;
    const FileStamp now = stampOf(path);
    if (!now.exists())
        return {};
    const auto start = readStart(path, 2);
    if (start && (*start)[0] != 'P' && start->size() == 2)
        return Error{ErrorKind::InvalidArgument, path,
                     "a file that is no work would be overwritten; choose another name"};
    const bool isOwn = !container.ownPath.empty() && isSameFile(path, container.ownPath);
    if (isOwn && now != container.ownStamp && !options.replacesOther)
        return Error{ErrorKind::Conflict, path,
                     "another window or program has written to it since it was opened"};
    return {};
}

/// Where the photo is, seen from the work's folder.
std::string relativePlace(const std::string &photoPath, const std::string &path)
{
    std::error_code ignored;
    const fs::path folder =
        fs::weakly_canonical(fs::absolute(path), ignored).parent_path().lexically_normal();
    const fs::path photo = fs::weakly_canonical(fs::absolute(photoPath).parent_path(), ignored) /
                           fs::path(photoPath).filename();
    return photo.lexically_normal().lexically_relative(folder).string();
}

/// The photo's bytes go in: from its place, or out of the file that holds them.
/// @return false: they are nowhere
bool packPhoto(ZipWriter &zip, const PhotoReference &reference, const Container &container,
               const std::string &photoPath, const Run &run)
{
    if (isPhotoOf(reference, photoPath, run)) {
        zip.addFile(packedEntry(reference), photoPath);
        return true;
    }
    if (!container.photo.packed || container.ownPath.empty())
        return false;
    const auto own = ZipReader::open(container.ownPath);
    const std::string entry = packedEntry(container.photo);
    if (!own || !own->contains(entry))
        return false;
    zip.addFrom(packedEntry(reference), *own, entry);
    return true;
}

/// What is known of the photo, and packed of it, goes in.
PhotoReference addPhoto(ZipWriter &zip, Container &container, const std::string &path,
                        const std::string &photoPath, const SaveOptions &options, const Run &run)
{
    PhotoReference reference = container.photo;
    const bool packs = options.packPhoto || isUnpacked(reference, photoPath);
    if (packs) // it may have been unpacked to a place that means nothing elsewhere
        reference.relativePath = fs::path(photoPath).filename().string();
    else if (!photoPath.empty())
        reference.relativePath = relativePlace(photoPath, path);
    const FileStamp now = stampOf(photoPath);
    if (options.photoStamp.exists() && now.exists() && now != options.photoStamp &&
        !isPhotoOf(reference, photoPath, run))
        container.notes.push_back("The photo " + photoPath +
                                  " was replaced since it was opened. This work is of the one "
                                  "that was opened: put that back.");
    reference.packed = packs && packPhoto(zip, reference, container, photoPath, run);
    if (reference.packed && !options.packPhoto)
        container.notes.emplace_back(
            "The photo is nowhere but in this file, so it stays packed in.");
    if (packs && !reference.packed) {
        container.notes.push_back("The photo could not be packed in: " + photoPath +
                                  " is not there as it was opened.");
        reference.relativePath = relativePlace(photoPath, path);
    }
    return reference;
}

json manifestOf(const Container &container, const PhotoReference &reference)
{
    json manifest = container.extraManifestJson.empty() ? json::object()
                                                        : json::parse(container.extraManifestJson);
    manifest["format"] = "buttonhole";
    manifest["version"] = kTakeVersion;
    manifest["readableFrom"] = 1;
    manifest["photo"] = referenceToJson(reference);
    manifest["current"] = container.work.current;
    manifest["window"] =
        container.windowJson.empty() ? json::object() : json::parse(container.windowJson);
    manifest["takes"] = json::array();
    for (size_t i = 0; i < container.work.takes.size(); ++i)
        manifest["takes"].push_back("takes/" + std::to_string(i + 1) + "/take.json");
    return manifest;
}

} // namespace

Result<void> saveContainer(Container &container, const std::string &path,
                           const std::string &photoPath, const SaveOptions &options, const Run &run)
{
    std::shared_ptr<const WorkLock> lock = options.lock;
    if (!lock || !lock->isOf(path))
        lock = WorkLock::take(path);
    if (!lock)
        return Error{ErrorKind::Conflict, path, "it is open in another window"};
    if (auto fine = checkTarget(container, path, photoPath, options); !fine)
        return fine;
    container.notes.clear();

    ZipWriter zip;
    const std::string mime = kMimeType;
    zip.add("mimetype", {mime.begin(), mime.end()}, ZipWriter::Compression::Store);
    ZipMaskWriter masks(container.savedMasks);
    for (size_t i = 0; i < container.work.takes.size(); ++i) {
        if (run.stopped())
            return Error{ErrorKind::Cancelled, path, {}};
        const std::string folder = "takes/" + std::to_string(i + 1) + "/";
        masks.startTake(folder);
        zip.add(folder + "take.json", takeToJson(*container.work.takes[i], &masks).dump(1));
    }
    SavedMasks saved;
    saved.path = path;
    if (auto done = masks.writeTo(zip, saved, run); !done)
        return done;
    const PhotoReference reference = addPhoto(zip, container, path, photoPath, options, run);
    zip.add(kManifest, manifestOf(container, reference).dump(1));
    if (!container.previewJpeg.empty())
        zip.add(kPreview, container.previewJpeg, ZipWriter::Compression::Store);
    for (const auto &[name, bytes] : container.extraEntries)
        zip.add(name, bytes, ZipWriter::Compression::Deflate);

    auto written =
        writeAtomically(path, [&](const std::string &temporary) { return zip.writeTo(temporary); });
    if (!written && written.error().kind == ErrorKind::Io &&
        !container.savedMasks.entries.empty()) {
        container.savedMasks = {}; // what was to be copied may be broken: encode all of it
        SaveOptions again = options;
        again.lock = lock;
        return saveContainer(container, path, photoPath, again, run);
    }
    if (written) {
        container.photo = reference;
        saved.stamp = stampOf(path);
        container.ownPath = path;
        container.ownStamp = saved.stamp;
        container.savedMasks = std::move(saved);
    }
    return written;
}

} // namespace buttonhole
