#include "document/container.h"

#include "document/json_text.h"
#include "document/take_json.h"
#include "document/zip.h"
#include "io/file.h"
#include "io/png.h"

#include <nlohmann/json.hpp>

#include <atomic>
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

/// How a file stands on the disk; equal while nobody has written to it.
std::pair<uint64_t, int64_t> stampOf(const std::string &path)
{
    std::error_code error;
    const uint64_t bytes = fs::file_size(path, error);
    if (error)
        return {};
    const auto time = fs::last_write_time(path, error);
    return {bytes, int64_t(time.time_since_epoch().count())};
}

/// Gathers the masks of all takes as PNG cut to what differs from `outside`: those of shapes that
/// the last file holds are copied out of it, the others encoded on all cores.
class ZipMaskWriter final : public MaskWriter
{
public:
    explicit ZipMaskWriter(const SavedMasks &last) : m_last(last)
    {
        if (!last.entries.empty() && stampOf(last.path) == std::pair(last.bytes, last.changed))
            if (auto zip = ZipReader::open(last.path))
                m_lastZip = std::move(*zip);
    }

    void startTake(const std::string &folder) { m_folder = folder; }
    void startShape(uint64_t content) override
    {
        m_content = content;
        m_place = 0;
    }

    json put(const std::string &name, const MaskPlane &plane, uint16_t outside) override
    {
        json out{{"outside", outside}};
        const std::pair key(m_content, m_place++);
        const Rect area = plane.boundsOfOtherThan(outside);
        if (area.isEmpty())
            return out;
        out["file"] = "masks/" + name + ".png";
        out["x"] = area.x0;
        out["y"] = area.y0;
        m_orders.push_back({key, m_folder + "masks/" + name + ".png", plane, area});
        return out;
    }

    /// Puts all of them into the file; `saved` receives where.
    Result<void> writeTo(ZipWriter &zip, SavedMasks &saved, const Run &run) const
    {
        std::vector<Result<std::vector<uint8_t>>> pngs(m_orders.size(), std::vector<uint8_t>());
        std::vector<char> kept; // libzip is asked on one thread
        for (const Order &order : m_orders)
            kept.push_back(isKept(order));
        std::atomic<int> done = 0;
        parallelFor(int(m_orders.size()), [&](int i) {
            const Order &order = m_orders[size_t(i)];
            if (!run.stopped() && !kept[size_t(i)])
                pngs[size_t(i)] = pngOf(order);
            run.report(float(++done) / float(m_orders.size() + 1));
        });
        if (run.stopped())
            return Error{ErrorKind::Cancelled, saved.path, {}};
        for (size_t i = 0; i < m_orders.size(); ++i) {
            const Order &order = m_orders[i];
            if (!pngs[i])
                return pngs[i].error();
            if (kept[i])
                zip.addFrom(order.entry, *m_lastZip, m_last.entries.at(order.key));
            else
                zip.add(order.entry, std::move(*pngs[i]), ZipWriter::Compression::Store);
            saved.entries[order.key] = order.entry;
        }
        return {};
    }

private:
    struct Order {
        std::pair<uint64_t, int> key;
        std::string entry;
        MaskPlane plane; ///< a copy of pointers
        Rect area;
    };

    bool isKept(const Order &order) const
    {
        const auto known = m_last.entries.find(order.key);
        return m_lastZip && known != m_last.entries.end() && m_lastZip->contains(known->second);
    }

    static Result<std::vector<uint8_t>> pngOf(const Order &order)
    {
        Image<uint16_t> picture(order.area.width(), order.area.height(), 1);
        order.plane.readOnce(order.area, picture.row(0), picture.stride());
        return encodeGreyPng(picture);
    }

    const SavedMasks &m_last;
    std::optional<ZipReader> m_lastZip;
    std::string m_folder;
    uint64_t m_content = 0;
    int m_place = 0;
    std::vector<Order> m_orders;
};

class ZipMaskReader final : public MaskReader
{
public:
    ZipMaskReader(const ZipReader &zip, std::string folder, std::set<std::string> &used)
        : m_zip(zip), m_folder(std::move(folder)), m_used(used)
    {
    }

    Result<MaskPlane> get(const json &reference) override
    {
        MaskPlane plane(width, height, reference.at("outside").get<uint16_t>());
        if (!reference.contains("file"))
            return plane;
        const std::string name = m_folder + reference.at("file").get<std::string>();
        const auto bytes = m_zip.read(name);
        if (!bytes)
            return bytes.error();
        m_used.insert(name);
        const auto png = decodePng(*bytes, name, {});
        if (!png)
            return png.error();
        const auto *picture = std::get_if<Image<uint16_t>>(&png->pixels);
        const int x0 = reference.at("x").get<int>();
        const int y0 = reference.at("y").get<int>();
        if (!picture || picture->channels() != 1 || x0 < 0 || y0 < 0 || x0 % kTileSize != 0 ||
            y0 % kTileSize != 0 || x0 + picture->width() > width || y0 + picture->height() > height)
            return Error{ErrorKind::Damaged, name, "it does not fit the photo"};
        fill(plane, *picture, x0, y0);
        return plane;
    }

private:
    static void fill(MaskPlane &plane, const Image<uint16_t> &picture, int x0, int y0)
    {
        const Rect area{x0, y0, x0 + picture.width(), y0 + picture.height()};
        parallelTiles(area, [&](const Rect &tile) {
            const int tx = tile.x0 / kTileSize;
            const int ty = tile.y0 / kTileSize;
            uint16_t *pixels = plane.writable(tx, ty);
            for (int y = tile.y0; y < tile.y1; ++y)
                std::copy_n(picture.pixel(tile.x0 - x0, y - y0), tile.width(),
                            pixels + size_t(y - ty * kTileSize) * kTileSize);
        });
        plane.compact(area);
        // A file of many steps holds more than memory should: what nobody looks at stays packed.
        std::vector<std::shared_ptr<TileBlock>> blocks;
        plane.visitBlocks([&](const auto &block) { blocks.push_back(block); });
        parallelFor(int(blocks.size()), [&](int i) { blocks[size_t(i)]->pack(); });
    }

    const ZipReader &m_zip;
    std::string m_folder;
    std::set<std::string> &m_used;
};

Result<json> readJson(const ZipReader &zip, const std::string &name, const std::string &path)
{
    const auto bytes = zip.read(name);
    if (!bytes)
        return Error{ErrorKind::Damaged, path, name + " is missing or broken"};
    auto parsed =
        jsonFromText({reinterpret_cast<const char *>(bytes->data()), bytes->size()}, path);
    if (!parsed)
        return Error{ErrorKind::Damaged, path, name + ": " + parsed.error().detail};
    return parsed;
}

PhotoReference referenceFromJson(const json &in)
{
    PhotoReference out;
    out.relativePath = in.at("path").get<std::string>();
    out.bytes = in.at("bytes").get<uint64_t>();
    out.sha256 = in.at("sha256").get<std::string>();
    out.width = in.at("width").get<int>();
    out.height = in.at("height").get<int>();
    out.packed = in.value("packed", false);
    return out;
}

std::string packedName(const PhotoReference &reference)
{
    return "photo/" + fs::path(reference.relativePath).filename().string();
}

Result<void> readTakes(const ZipReader &zip, const json &manifest, const std::string &path,
                       Container &out, std::set<std::string> &used)
{
    for (const json &entry : manifest.at("takes")) {
        const std::string name = entry.get<std::string>();
        const auto parsed = readJson(zip, name, path);
        if (!parsed)
            return parsed.error();
        used.insert(name);
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
    out.work.current = std::min(manifest.value("current", size_t(0)), out.work.takes.size() - 1);
    return {};
}

Result<Container> readContainer(const ZipReader &zip, const std::string &path)
{
    const auto manifest = readJson(zip, kManifest, path);
    if (!manifest)
        return manifest.error();
    if (manifest->value("format", "") != "buttonhole")
        return Error{ErrorKind::Damaged, path, "it is not a .buttonhole file"};
    if (manifest->value("readableFrom", 1) > kTakeVersion)
        return Error{ErrorKind::Newer, path, {}};
    Container out;
    out.photo = referenceFromJson(manifest->at("photo"));
    if (const auto fits = checkSize(out.photo.width, out.photo.height, path); !fits)
        return Error{ErrorKind::Damaged, path, "its photo's size is wrong"};
    std::set<std::string> used{"mimetype", kManifest, kPreview};
    if (out.photo.packed)
        used.insert(packedName(out.photo));
    if (const auto takes = readTakes(zip, *manifest, path, out, used); !takes)
        return takes.error();
    out.windowJson = manifest->value("window", json::object()).dump();
    if (zip.contains(kPreview))
        if (auto preview = zip.read(kPreview))
            out.previewJpeg = std::move(*preview);
    json extra = *manifest;
    for (const char *own :
         {"format", "version", "readableFrom", "photo", "takes", "current", "window"})
        extra.erase(own);
    if (!extra.empty())
        out.extraManifestJson = extra.dump();
    for (const std::string &name : zip.names())
        if (!used.count(name) && !name.empty() && name.back() != '/')
            if (auto bytes = zip.read(name))
                out.extraEntries.emplace(name, std::move(*bytes));
    return out;
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
                   isPhotoOf(reference, it->path().string())) {
            return it->path().string();
        }
    }
    if (depth > 0)
        for (const fs::path &each : below)
            if (auto found = searchFolder(reference, each, depth - 1, run))
                return found;
    return std::nullopt;
}

} // namespace

bool isContainerPath(const std::string &path)
{
    return fs::path(path).extension() == ".buttonhole";
}

Result<Container> loadContainer(const std::string &path, const Run &run)
{
    const auto zip = ZipReader::open(path);
    if (!zip)
        return zip.error();
    if (run.stopped())
        return Error{ErrorKind::Cancelled, path, {}};
    try {
        return readContainer(*zip, path);
    } catch (const json::exception &problem) {
        return Error{ErrorKind::Damaged, path, std::string(kManifest) + ": " + inWords(problem)};
    }
}

bool isPhotoOf(const PhotoReference &reference, const std::string &file)
{
    const auto size = fileSize(file);
    if (!size || *size != reference.bytes)
        return false;
    const auto hash = sha256OfFile(file);
    return hash && *hash == reference.sha256;
}

Result<std::string> findPhoto(Container &container, const std::string &path,
                              const std::string &unpackFolder, const Run &run)
{
    const PhotoReference &reference = container.photo;
    const fs::path folder = fs::absolute(path).parent_path();
    const std::string atPlace = (folder / reference.relativePath).lexically_normal().string();
    if (isPhotoOf(reference, atPlace))
        return atPlace;
    if (reference.packed) {
        const auto zip = ZipReader::open(path);
        const auto bytes = zip ? zip->read(packedName(reference)) : zip.error();
        if (bytes) {
            const fs::path to = fs::path(unpackFolder) / reference.sha256.substr(0, 16) /
                                fs::path(reference.relativePath).filename();
            std::error_code ignored;
            fs::create_directories(to.parent_path(), ignored);
            if (const auto written =
                    writeBytesAtomically(to.string(), bytes->data(), bytes->size());
                !written)
                return written.error();
            return to.string();
        }
    }
    if (const auto found = searchFolder(reference, folder, 1, run)) {
        container.notes.push_back("The photo was found again as " + *found + ".");
        return *found;
    }
    std::error_code ignored;
    if (fs::is_regular_file(atPlace, ignored)) {
        container.notes.push_back("The photo " + atPlace +
                                  " has changed since this work was saved.");
        return atPlace;
    }
    return Error{ErrorKind::PhotoMissing, atPlace, {}};
}

Result<void> saveContainer(Container &container, const std::string &path,
                           const std::string &photoPath, const SaveOptions &options, const Run &run)
{
    if (auto fine = checkIsNotPhoto(path, photoPath); !fine)
        return fine;
    PhotoReference reference = container.photo;
    const auto size = fileSize(photoPath);
    const auto hash = size ? sha256OfFile(photoPath) : size.error();
    if (hash) { // a photo that is away for now keeps what was known of it
        reference.bytes = *size;
        reference.sha256 = *hash;
        reference.relativePath =
            fs::absolute(photoPath).lexically_relative(fs::absolute(path).parent_path()).string();
    }
    reference.packed = options.packPhoto && hash.has_value();
    if (reference.packed) // it may have been unpacked to a place that means nothing elsewhere
        reference.relativePath = fs::path(photoPath).filename().string();

    ZipWriter zip;
    const std::string mime = kMimeType;
    zip.add("mimetype", {mime.begin(), mime.end()}, ZipWriter::Compression::Store);
    json manifest = container.extraManifestJson.empty() ? json::object()
                                                        : json::parse(container.extraManifestJson);
    manifest["format"] = "buttonhole";
    manifest["version"] = kTakeVersion;
    manifest["readableFrom"] = 1;
    manifest["photo"] = {{"path", reference.relativePath}, {"bytes", reference.bytes},
                         {"sha256", reference.sha256},     {"width", reference.width},
                         {"height", reference.height},     {"packed", reference.packed}};
    manifest["current"] = container.work.current;
    manifest["window"] =
        container.windowJson.empty() ? json::object() : json::parse(container.windowJson);
    manifest["takes"] = json::array();
    ZipMaskWriter masks(container.savedMasks);
    for (size_t i = 0; i < container.work.takes.size(); ++i) {
        if (run.stopped())
            return Error{ErrorKind::Cancelled, path, {}};
        const std::string folder = "takes/" + std::to_string(i + 1) + "/";
        masks.startTake(folder);
        zip.add(folder + "take.json", takeToJson(*container.work.takes[i], &masks).dump(1));
        manifest["takes"].push_back(folder + "take.json");
    }
    SavedMasks saved;
    saved.path = path;
    if (auto done = masks.writeTo(zip, saved, run); !done)
        return done;
    zip.add(kManifest, manifest.dump(1));
    if (!container.previewJpeg.empty())
        zip.add(kPreview, container.previewJpeg, ZipWriter::Compression::Store);
    if (reference.packed)
        zip.addFile(packedName(reference), photoPath);
    for (const auto &[name, bytes] : container.extraEntries)
        zip.add(name, bytes, ZipWriter::Compression::Deflate);

    auto written =
        writeAtomically(path, [&](const std::string &temporary) { return zip.writeTo(temporary); });
    if (!written && written.error().kind == ErrorKind::Io &&
        !container.savedMasks.entries.empty()) {
        container.savedMasks = {}; // what was to be copied may be broken: encode all of it
        return saveContainer(container, path, photoPath, options, run);
    }
    if (written) {
        container.photo = reference;
        std::tie(saved.bytes, saved.changed) = stampOf(path);
        container.savedMasks = std::move(saved);
    }
    return written;
}

} // namespace buttonhole
