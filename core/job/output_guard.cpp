#include "job/output_guard.h"

#include <filesystem>
#include <optional>

#include <sys/stat.h>

namespace buttonhole
{

namespace
{

namespace fs = std::filesystem;

std::optional<std::pair<uint64_t, uint64_t>> nodeOf(const std::string &path)
{
    struct stat info {
    };
    if (::stat(path.c_str(), &info) != 0)
        return std::nullopt;
    return std::pair(uint64_t(info.st_dev), uint64_t(info.st_ino));
}

std::string wholePath(const std::string &path)
{
    std::error_code problem;
    return fs::weakly_canonical(fs::absolute(path, problem), problem).string();
}

} // namespace

void OutputGuard::protect(const std::string &path)
{
    if (path.empty())
        return;
    if (const auto node = nodeOf(path))
        m_nodes.insert(*node);
    if (std::string whole = wholePath(path); !whole.empty())
        m_paths.insert(std::move(whole));
}

bool OutputGuard::isProtected(const std::string &path) const
{
    const auto node = nodeOf(path);
    return (node && m_nodes.contains(*node)) || m_paths.contains(wholePath(path));
}

Result<void> OutputGuard::check(const std::string &path) const
{
    if (isProtected(path))
        return Error{ErrorKind::InvalidArgument, path,
                     "it is read from, and would be overwritten; choose another name"};
    return {};
}

} // namespace buttonhole
