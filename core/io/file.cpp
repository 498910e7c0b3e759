#include "io/file.h"

#include <openssl/evp.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <filesystem>
#include <memory>
#include <string_view>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace buttonhole
{

namespace
{

struct Descriptor {
    explicit Descriptor(int value) : fd(value) {}
    ~Descriptor()
    {
        if (fd >= 0)
            ::close(fd);
    }
    Descriptor(const Descriptor &) = delete;
    Descriptor &operator=(const Descriptor &) = delete;
    int fd;
};

Result<void> syncFile(const std::string &path)
{
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    if (file.fd < 0 || ::fsync(file.fd) != 0)
        return systemError(path);
    return {};
}

} // namespace

namespace
{

/// Opens only what can be read to its end: opening a pipe would wait for somebody to write to it.
Result<int> openRegular(const std::string &path, struct stat &info)
{
    if (::stat(path.c_str(), &info) != 0)
        return systemError(path);
    if (!S_ISREG(info.st_mode))
        return Error{ErrorKind::NotAPhoto, path,
                     S_ISDIR(info.st_mode) ? "it is a folder" : "it is a pipe or a device"};
    const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    return fd < 0 ? Result<int>(systemError(path)) : Result<int>(fd);
}

/// Appends until the end, or until there are `most` bytes.
Result<void> readInto(std::vector<uint8_t> &bytes, int fd, size_t most, const std::string &path)
{
    constexpr size_t kPiece = 1 << 20;
    while (bytes.size() < most) {
        const size_t before = bytes.size();
        const size_t wanted = std::min(kPiece, most - before);
        bytes.resize(before + wanted);
        const ssize_t got = ::read(fd, bytes.data() + before, wanted);
        bytes.resize(before + size_t(std::max<ssize_t>(got, 0)));
        if (got < 0 && errno != EINTR)
            return systemError(path);
        if (got == 0)
            break;
    }
    return {};
}

} // namespace

Result<uint64_t> fileSize(const std::string &path)
{
    struct stat info {
    };
    const auto opened = openRegular(path, info);
    if (!opened)
        return opened.error();
    ::close(*opened);
    return uint64_t(info.st_size);
}

Result<std::vector<uint8_t>> readStart(const std::string &path, size_t count)
{
    struct stat info {
    };
    const auto opened = openRegular(path, info);
    if (!opened)
        return opened.error();
    const Descriptor file(*opened);
    if (info.st_size == 0)
        return Error{ErrorKind::Damaged, path, "the file is empty"};
    std::vector<uint8_t> bytes;
    const size_t most = std::min<size_t>(count, size_t(info.st_size));
    bytes.reserve(most);
    if (const auto read = readInto(bytes, file.fd, most, path); !read)
        return read.error();
    return bytes;
}

Result<std::vector<uint8_t>> readFile(const std::string &path)
{
    return readStart(path, SIZE_MAX);
}

Result<std::vector<uint8_t>> readStream(const std::string &path, size_t most)
{
    struct stat info {
    };
    if (::stat(path.c_str(), &info) != 0)
        return systemError(path);
    if (S_ISDIR(info.st_mode))
        return Error{ErrorKind::Damaged, path, "it is a folder"};
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    if (file.fd < 0)
        return systemError(path);
    std::vector<uint8_t> bytes;
    if (const auto read = readInto(bytes, file.fd, most + 1, path); !read)
        return read.error();
    if (bytes.size() > most)
        return Error{ErrorKind::Damaged, path, "more than " + std::to_string(most) + " bytes"};
    if (bytes.empty())
        return Error{ErrorKind::Damaged, path, "it is empty"};
    return bytes;
}

FileStamp stampOf(const std::string &path)
{
    struct stat info {
    };
    if (::stat(path.c_str(), &info) != 0)
        return {};
    constexpr int64_t kNs = 1'000'000'000;
    return {uint64_t(info.st_size),
            std::max<int64_t>(1, int64_t(info.st_mtim.tv_sec) * kNs + info.st_mtim.tv_nsec),
            uint64_t(info.st_ino)};
}

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
    const Descriptor fileA(::open(a.c_str(), O_RDONLY | O_CLOEXEC));
    const Descriptor fileB(::open(b.c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW | O_NONBLOCK));
    struct stat infoA {
    };
    struct stat infoB {
    };
    if (fileA.fd < 0 || fileB.fd < 0 || ::fstat(fileA.fd, &infoA) != 0 ||
        ::fstat(fileB.fd, &infoB) != 0 || !S_ISREG(infoB.st_mode) || infoA.st_size != infoB.st_size)
        return false;
    constexpr size_t kPiece = 1 << 20;
    std::vector<uint8_t> pieceA;
    std::vector<uint8_t> pieceB;
    do {
        pieceA.clear();
        pieceB.clear();
        if (!readInto(pieceA, fileA.fd, kPiece, a) || !readInto(pieceB, fileB.fd, kPiece, b) ||
            pieceA != pieceB)
            return false;
    } while (!pieceA.empty());
    return true;
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

Sha256::Sha256()
    : m_context(EVP_MD_CTX_new(),
                [](void *context) { EVP_MD_CTX_free(static_cast<EVP_MD_CTX *>(context)); })
{
    EVP_DigestInit_ex(static_cast<EVP_MD_CTX *>(m_context.get()), EVP_sha256(), nullptr);
}

void Sha256::add(const void *data, size_t size)
{
    EVP_DigestUpdate(static_cast<EVP_MD_CTX *>(m_context.get()), data, size);
}

std::string Sha256::hex()
{
    unsigned char digest[EVP_MAX_MD_SIZE];
    unsigned size = 0;
    EVP_DigestFinal_ex(static_cast<EVP_MD_CTX *>(m_context.get()), digest, &size);
    std::string hex;
    for (unsigned i = 0; i < size; ++i) {
        constexpr char kDigits[] = "0123456789abcdef";
        hex += kDigits[digest[i] >> 4];
        hex += kDigits[digest[i] & 15];
    }
    return hex;
}

Result<std::string> sha256OfFile(const std::string &path, const Run &run)
{
    struct stat info {
    };
    const auto opened = openRegular(path, info);
    if (!opened)
        return opened.error();
    const Descriptor file(*opened);
    Sha256 sum;
    std::vector<uint8_t> buffer(1 << 20);
    for (;;) {
        if (run.stopped())
            return Error{ErrorKind::Cancelled, path, {}};
        const ssize_t got = ::read(file.fd, buffer.data(), buffer.size());
        if (got < 0 && errno == EINTR)
            continue;
        if (got < 0)
            return systemError(path);
        if (got == 0)
            break;
        sum.add(buffer.data(), size_t(got));
    }
    return sum.hex();
}

TemporaryFolder::TemporaryFolder()
{
    std::error_code problem;
    std::string path =
        (std::filesystem::temp_directory_path(problem) / "buttonhole-XXXXXX").string();
    if (!problem && ::mkdtemp(path.data()))
        m_path = path;
}

TemporaryFolder::~TemporaryFolder()
{
    std::error_code ignored;
    if (!m_path.empty())
        std::filesystem::remove_all(m_path, ignored);
}

Result<void> makePrivateFolder(const std::string &path)
{
    const auto above = std::filesystem::path(path).parent_path();
    std::error_code ignored;
    std::filesystem::create_directories(above, ignored);
    if (::mkdir(path.c_str(), 0700) != 0 && errno != EEXIST)
        return systemError(path);
    struct stat info {
    };
    if (::lstat(path.c_str(), &info) != 0)
        return systemError(path);
    if (!S_ISDIR(info.st_mode))
        return Error{ErrorKind::NoPermission, path, "it is not a folder of its own"};
    if (info.st_uid != ::geteuid())
        return Error{ErrorKind::NoPermission, path, "it is somebody else's"};
    if ((info.st_mode & 07777) != 0700 && ::chmod(path.c_str(), 0700) != 0)
        return systemError(path);
    return {};
}

bool isSameFile(const std::string &a, const std::string &b)
{
    namespace fs = std::filesystem;
    std::error_code problem;
    if (fs::equivalent(a, b, problem) && !problem)
        return true;
    const fs::path pathA = fs::weakly_canonical(fs::absolute(a), problem);
    const fs::path pathB = fs::weakly_canonical(fs::absolute(b), problem);
    return !problem && !pathA.empty() && pathA == pathB;
}

Result<void> checkIsNotPhoto(const std::string &path, const std::string &photoPath)
{
    if (!photoPath.empty() && isSameFile(path, photoPath))
        return Error{ErrorKind::InvalidArgument, path,
                     "it is the opened photo, which is never written to; choose another name"};
    return {};
}

Result<void> checkOutputs(const std::vector<std::string> &outputs,
                          const std::vector<std::string> &inputs)
{
    for (size_t i = 0; i < outputs.size(); ++i) {
        if (outputs[i].empty())
            continue;
        for (const std::string &input : inputs)
            if (!input.empty() && isSameFile(outputs[i], input))
                return Error{ErrorKind::InvalidArgument, outputs[i],
                             "it is read from, and would be overwritten; choose another name"};
        for (size_t j = 0; j < i; ++j)
            if (!outputs[j].empty() && isSameFile(outputs[i], outputs[j]))
                return Error{ErrorKind::InvalidArgument, outputs[i],
                             "two files would be written to it; choose another name"};
    }
    return {};
}

std::string endingOf(const std::string &path)
{
    std::string ending = std::filesystem::path(path).extension().string();
    for (char &c : ending)
        c = char(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
    return ending;
}

std::string freeNameBeside(const std::string &path)
{
    namespace fs = std::filesystem;
    const fs::path from(path);
    std::error_code ignored;
    fs::path free = from;
    for (int i = 2; fs::exists(fs::symlink_status(free, ignored)); ++i)
        free = from.parent_path() /
               (from.stem().string() + " " + std::to_string(i) + from.extension().string());
    return free.string();
}

} // namespace buttonhole
