#include "document/preset_store.h"

#include "io/file.h"
#include "io/loadable.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <tuple>

namespace buttonhole
{

namespace
{

namespace fs = std::filesystem;

constexpr size_t kMostPresets = 1000;
constexpr size_t kMostPresetBytes = size_t(8) << 20;

/// A name as that of a file: what paths are made of is left out.
std::string fileNameOf(const std::string &name)
{
    std::string out;
    for (const char c : name)
        out += c == '/' || c == '\\' || static_cast<unsigned char>(c) < 0x20 ? '-' : c;
    if (out.starts_with('.'))
        out.front() = '-';
    return out;
}

Result<void> checkName(const std::string &name, const char *what)
{
    const bool isBlank = name.find_first_not_of(' ') == std::string::npos;
    if (isBlank || name.size() > Preset::kMostName)
        return Error{ErrorKind::InvalidArgument, what, "1 to 80 bytes are expected"};
    return {};
}

std::string lower(std::string text)
{
    for (char &c : text)
        if (c >= 'A' && c <= 'Z')
            c = char(c - 'A' + 'a');
    return text;
}

void gather(const std::string &root, bool isShipped, std::vector<StoredPreset> &out)
{
    std::error_code ignored;
    size_t count = 0;
    for (auto it = fs::recursive_directory_iterator(
             root, fs::directory_options::skip_permission_denied, ignored);
         it != fs::recursive_directory_iterator() && count < kMostPresets; it.increment(ignored)) {
        if (it->path().extension() != ".json" || !it->is_regular_file(ignored))
            continue;
        ++count;
        StoredPreset one;
        one.path = it->path().string();
        one.isShipped = isShipped;
        const fs::path within = it->path().parent_path().lexically_relative(root);
        one.folder = within == "." ? std::string() : within.string();
        if (auto read = readPresetFile(one.path, one.notes)) {
            one.preset = std::move(*read);
        } else {
            one.preset.name = it->path().stem().string();
            one.problem = sentence(read.error());
        }
        out.push_back(std::move(one));
    }
}

} // namespace

Result<Preset> readPresetFile(const std::string &path, std::vector<std::string> &notes)
{
    const auto bytes = fileSize(path);
    if (bytes && *bytes > kMostPresetBytes)
        return Error{ErrorKind::BadValue, path, "it is larger than 8 MB"};
    const auto text = readFile(path);
    if (!text)
        return text.error();
    return presetFromText({text->begin(), text->end()}, path, notes);
}

PresetStore::PresetStore(std::string own, std::string shipped)
    : m_own(std::move(own)), m_shipped(std::move(shipped))
{
}

PresetStore PresetStore::system()
{
    const char *data = std::getenv("XDG_DATA_HOME");
    const char *home = std::getenv("HOME");
    const fs::path own =
        data && *data ? fs::path(data) : fs::path(home ? home : "") / ".local" / "share";
    std::error_code ignored;
    for (const std::string &place :
         placesOf(BUTTONHOLE_PRESETS_INSTALLED, BUTTONHOLE_PRESETS_BUILD))
        if (fs::is_directory(place, ignored))
            return PresetStore((own / "buttonhole" / "presets").string(), place);
    return PresetStore((own / "buttonhole" / "presets").string());
}

std::vector<StoredPreset> PresetStore::list() const
{
    std::vector<StoredPreset> out;
    gather(m_own, false, out);
    if (!m_shipped.empty())
        gather(m_shipped, true, out);
    std::sort(out.begin(), out.end(), [](const StoredPreset &a, const StoredPreset &b) {
        return std::tuple(a.isShipped, lower(a.folder), lower(a.preset.name), a.path) <
               std::tuple(b.isShipped, lower(b.folder), lower(b.preset.name), b.path);
    });
    return out;
}

Result<StoredPreset> PresetStore::find(const std::string &name) const
{
    std::string known;
    for (StoredPreset &each : list()) {
        const std::string whole =
            each.folder.empty() ? each.preset.name : each.folder + "/" + each.preset.name;
        known += (known.empty() ? "" : ", ") + whole;
        if (lower(whole) != lower(name) && lower(each.preset.name) != lower(name))
            continue;
        if (!each.problem.empty())
            return Error{ErrorKind::BadValue, each.path, each.problem};
        return std::move(each);
    }
    return Error{ErrorKind::NotFound, "preset \"" + name + "\"", "there are: " + known};
}

Result<std::string> PresetStore::save(const Preset &preset, const std::string &folder) const
{
    if (auto fine = checkName(preset.name, "name of the preset"); !fine)
        return fine.error();
    fs::path place = m_own;
    if (!folder.empty()) {
        if (auto fine = checkName(folder, "folder of the preset"); !fine)
            return fine.error();
        place /= fileNameOf(folder);
    }
    std::error_code problem;
    fs::create_directories(place, problem);
    if (problem)
        return Error{ErrorKind::NoPermission, place.string(), problem.message()};
    const std::string path = (place / (fileNameOf(preset.name) + ".json")).string();
    const std::string text = presetToText(preset);
    if (auto written = writeBytesAtomically(path, text.data(), text.size()); !written)
        return written.error();
    return path;
}

Result<std::string> PresetStore::move(const StoredPreset &stored, const std::string &name,
                                      const std::string &folder) const
{
    for (const StoredPreset &each : list())
        if (!each.isShipped && each.path != stored.path && each.folder == folder &&
            lower(each.preset.name) == lower(name))
            return Error{ErrorKind::Conflict, name, "there is a preset of that name"};
    Preset renamed = stored.preset;
    renamed.name = name;
    auto path = save(renamed, folder);
    if (!path || *path == stored.path || stored.isShipped)
        return path;
    if (auto removed = remove(stored); !removed)
        return removed.error();
    return path;
}

Result<void> PresetStore::remove(const StoredPreset &stored) const
{
    if (stored.isShipped)
        return Error{ErrorKind::NoPermission, stored.preset.name, "it comes with the program"};
    std::error_code problem;
    fs::remove(stored.path, problem);
    if (problem)
        return Error{ErrorKind::NoPermission, stored.path, problem.message()};
    return {};
}

} // namespace buttonhole
