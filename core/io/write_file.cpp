// Files that are whole or not there: the part of file.h that writes.
#include "io/descriptor.h"
#include "io/file.h"

#include <cerrno>
#include <cstdio>
#include <ctime>
#include <filesystem>
#include <string_view>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace buttonhole
{

Result<void> writeAll(int descriptor, const void *data, size_t size, const std::string &subject)
{
    const char *from = static_cast<const char *>(data);
    while (size > 0) {
        const ssize_t written = ::write(descriptor, from, size);
        if (written < 0 && errno == EINTR)
            continue;
        if (written <= 0)
            return systemError(subject);
        from += written;
        size -= size_t(written);
    }
    return {};
}

namespace
{

Result<void> syncFile(const std::string &path)
{
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    if (file.fd < 0 || ::fsync(file.fd) != 0)
        return systemError(path);
    return {};
}

constexpr std::string_view kTemporaryName = ".part-"; ///< and six letters

std::string randomLetters()
{
    constexpr std::string_view kLetters = "abcdefghijklmnopqrstuvwxyz0123456789";
    uint8_t random[6];
    if (::getentropy(random, sizeof random) != 0)
        std::fill_n(random, sizeof random, uint8_t(::getpid())); // the name is tried again anyway
    std::string out;
    for (const uint8_t each : random)
        out += kLetters[each % kLetters.size()];
    return out;
}

/// A new file beside `path`, open, empty, with the mode that the file is to have: what the system
/// gives new files, or that of the file which it is to replace. It is locked while it is written.
Result<int> makeTemporary(const std::string &path, std::string &temporary)
{
    struct stat existing {
    };
    const bool exists = ::stat(path.c_str(), &existing) == 0;
    constexpr mode_t kAnyWrite = S_IWUSR | S_IWGRP | S_IWOTH;
    if (exists && ((existing.st_mode & kAnyWrite) == 0 || ::access(path.c_str(), W_OK) != 0))
        return Error{ErrorKind::NoPermission, path, "it is write-protected"};
    if (exists && S_ISDIR(existing.st_mode))
        return Error{ErrorKind::NoPermission, path, "it is a folder"};
    const auto folder = std::filesystem::path(path).parent_path();
    int fd = -1;
    for (int attempt = 0; attempt < 100 && fd < 0; ++attempt) {
        temporary = (folder / (std::string(kTemporaryName) + randomLetters())).string();
        // The system takes off what the user's umask says; asking for that would change it for all
        // threads meanwhile.
        fd = ::open(temporary.c_str(), O_RDWR | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
        if (fd < 0 && errno != EEXIST)
            break;
    }
    if (fd < 0) {
        Error error = systemError(path);
        if (error.kind == ErrorKind::NotFound)
            error.detail = "there is no such folder";
        return error;
    }
    (void)::flock(fd, LOCK_EX | LOCK_NB); // see removeLeftovers()
    if (exists)
        (void)::fchmod(fd, existing.st_mode & 07777);
    return fd;
}

bool haveSameBytes(const std::string &a, const std::string &b)
{
    struct stat infoA {
    };
    struct stat infoB {
    };
    if (::lstat(a.c_str(), &infoA) != 0 || ::lstat(b.c_str(), &infoB) != 0 ||
        !S_ISREG(infoB.st_mode) || infoA.st_size != infoB.st_size)
        return false;
    const auto digestA = sha256OfFile(a);
    const auto digestB = sha256OfFile(b);
    return digestA && digestB && *digestA == *digestB;
}

/// Gives the finished file its name. With Overwrite::No nothing that is there goes, not even what
/// came a moment ago.
Result<void> publish(const std::string &temporary, const std::string &path, Overwrite overwrite)
{
    if (overwrite == Overwrite::Yes)
        return ::rename(temporary.c_str(), path.c_str()) == 0 ? Result<void>() : systemError(path);
    if (::renameat2(AT_FDCWD, temporary.c_str(), AT_FDCWD, path.c_str(), RENAME_NOREPLACE) == 0)
        return {};
    if (errno == EINVAL || errno == ENOSYS) { // a file system that does not know how
        if (::link(temporary.c_str(), path.c_str()) == 0) {
            ::unlink(temporary.c_str());
            return {};
        }
        struct stat info {
        };
        if (errno != EEXIST && ::lstat(path.c_str(), &info) != 0)
            return publish(temporary, path, Overwrite::Yes);
        errno = EEXIST;
    }
    if (errno != EEXIST)
        return systemError(path);
    if (!haveSameBytes(temporary, path))
        return Error{ErrorKind::Conflict, path, "another file of that name is there"};
    ::unlink(temporary.c_str());
    return {};
}

/// To the disk, by the descriptor that was open all along: errors of writing that only come up now
/// are told to it for certain. A library may have put another file in its place (libzip does).
Result<void> syncWritten(int fd, const std::string &temporary)
{
    struct stat held {
    };
    struct stat named {
    };
    if (::fsync(fd) != 0 || ::fstat(fd, &held) != 0 || ::stat(temporary.c_str(), &named) != 0)
        return systemError(temporary);
    return held.st_ino == named.st_ino ? Result<void>() : syncFile(temporary);
}

} // namespace

Result<void> writeAtomically(const OutputPath &output,
                             const std::function<Result<void>(const std::string &)> &fill)
{
    namespace fs = std::filesystem;
    std::error_code problem;
    const bool follows = output.overwrite == Overwrite::Yes && fs::is_symlink(output.path, problem);
    const fs::path target = follows ? fs::canonical(output.path, problem) : "";
    const std::string path = target.empty() ? output.path : target.string();
    std::string temporary;
    const auto made = makeTemporary(path, temporary);
    if (!made)
        return made.error();
    const Descriptor held(*made);

    Result<void> done = fill(temporary);
    if (done)
        done = syncWritten(held.fd, temporary);
    if (done)
        done = publish(temporary, path, output.overwrite);
    if (!done) {
        ::unlink(temporary.c_str());
        Error error = done.error();
        if (error.subject == temporary)
            error.subject = path;
        return error;
    }
    // Without this a power cut may forget the rename; failing is harmless (some file systems).
    const auto folder = fs::path(path).parent_path();
    (void)syncFile(folder.empty() ? "." : folder.string());
    return {};
}

Result<void> writeBytesAtomically(const OutputPath &path, const void *data, size_t size)
{
    return writeAtomically(path, [&](const std::string &temporary) -> Result<void> {
        const Descriptor file(::open(temporary.c_str(), O_WRONLY | O_CLOEXEC));
        if (file.fd < 0)
            return systemError(path.path);
        return writeAll(file.fd, data, size, path.path);
    });
}

void removeLeftovers(const std::string &folder)
{
    namespace fs = std::filesystem;
    // Between two renames of a library a file that is being written has no lock for a moment.
    constexpr std::time_t kAbandonedS = 600;
    std::error_code problem;
    for (auto it = fs::directory_iterator(folder, problem);
         !problem && it != fs::directory_iterator(); it.increment(problem)) {
        const std::string name = it->path().filename().string();
        if (!name.starts_with(kTemporaryName) || name.size() != kTemporaryName.size() + 6)
            continue;
        const Descriptor file(
            ::open(it->path().c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW | O_NONBLOCK));
        struct stat info {
        };
        if (file.fd < 0 || ::fstat(file.fd, &info) != 0 || !S_ISREG(info.st_mode) ||
            info.st_uid != ::geteuid() || ::flock(file.fd, LOCK_EX | LOCK_NB) != 0)
            continue;
        if (std::time(nullptr) - info.st_mtime >= kAbandonedS)
            ::unlink(it->path().c_str());
    }
}

std::shared_ptr<const FolderLock> FolderLock::take(const std::string &folder)
{
    const int fd =
        ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (fd >= 0 && ::flock(fd, LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK) {
        ::close(fd);
        return nullptr;
    }
    return std::shared_ptr<const FolderLock>(new FolderLock(fd));
}

FolderLock::~FolderLock()
{
    if (m_descriptor >= 0)
        ::close(m_descriptor);
}

} // namespace buttonhole
