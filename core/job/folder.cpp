#include "job/folder.h"

#include "io/file.h"

#include <algorithm>
#include <array>
#include <filesystem>

namespace buttonhole
{

namespace
{

namespace fs = std::filesystem;

bool looksLikePhoto(const std::string &path)
{
    constexpr std::array kEndings = {
        ".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".heic", ".heif", ".avif",      ".dng",
        ".nef", ".cr2",  ".cr3", ".arw", ".raf",  ".orf",  ".rw2",  ".pef",  ".buttonhole"};
    const std::string ending = endingOf(path);
    return std::find(kEndings.begin(), kEndings.end(), ending) != kEndings.end();
}

} // namespace

Result<std::vector<std::string>> photosIn(const std::string &folder)
{
    std::vector<std::string> out;
    std::error_code problem;
    for (auto it = fs::directory_iterator(folder, problem);
         !problem && it != fs::directory_iterator(); it.increment(problem)) {
        std::error_code ignored;
        const std::string path = it->path().string();
        const bool isHidden = it->path().filename().string().starts_with('.');
        if (!isHidden && it->is_regular_file(ignored) && looksLikePhoto(path))
            out.push_back(path);
    }
    if (problem == std::errc::permission_denied)
        return Error{ErrorKind::NoPermission, folder, problem.message()};
    if (problem)
        return Error{ErrorKind::Io, folder, problem.message()};
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace buttonhole
