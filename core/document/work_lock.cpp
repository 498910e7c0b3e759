#include "document/work_lock.h"

#include "io/file.h"

#include <cstdlib>
#include <filesystem>

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

namespace buttonhole
{

namespace fs = std::filesystem;

namespace
{

/// The lock's own file: named by the digest of the work's path, links followed.
std::string placeOf(const std::string &path)
{
    std::error_code ignored;
    const std::string whole = fs::weakly_canonical(fs::absolute(path), ignored).string();
    Sha256 sum;
    sum.add(whole.data(), whole.size());
    const char *own = std::getenv("XDG_RUNTIME_DIR");
    const fs::path folder = own && *own ? fs::path(own) / "buttonhole"
                                        : fs::temp_directory_path(ignored) /
                                              ("buttonhole-" + std::to_string(::getuid()));
    if (!makePrivateFolder(folder.string()))
        return {};
    return (folder / (sum.hex() + ".lock")).string();
}

} // namespace

std::shared_ptr<const WorkLock> WorkLock::take(const std::string &path)
{
    std::string place = placeOf(path);
    constexpr int kFlags = O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW;
    const int fd = place.empty() ? -1 : ::open(place.c_str(), kFlags, 0600);
    if (fd >= 0 && ::flock(fd, LOCK_EX | LOCK_NB) != 0) {
        ::close(fd);
        return nullptr;
    }
    // Where no lock can be made (no such folder, a full disk) the work goes on without one.
    return std::shared_ptr<const WorkLock>(new WorkLock(fd, std::move(place)));
}

WorkLock::~WorkLock()
{
    if (m_descriptor >= 0)
        ::close(m_descriptor);
}

bool WorkLock::isOf(const std::string &path) const
{
    return m_place == placeOf(path);
}

} // namespace buttonhole
