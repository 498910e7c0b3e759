#include "io/file.h"

#include <openssl/evp.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <memory>

#include <fcntl.h>
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

Result<uint64_t> fileSize(const std::string &path)
{
    struct stat info {
    };
    if (::stat(path.c_str(), &info) != 0)
        return systemError(path);
    if (S_ISDIR(info.st_mode))
        return Error{ErrorKind::NotAPhoto, path, "it is a folder"};
    return uint64_t(info.st_size);
}

Result<std::vector<uint8_t>> readStart(const std::string &path, size_t count)
{
    const auto size = fileSize(path);
    if (!size)
        return size.error();
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    if (file.fd < 0)
        return systemError(path);
    if (*size == 0)
        return Error{ErrorKind::Damaged, path, "the file is empty"};
    std::vector<uint8_t> bytes(std::min<size_t>(count, *size));
    size_t done = 0;
    while (done < bytes.size()) {
        const ssize_t got = ::read(file.fd, bytes.data() + done, bytes.size() - done);
        if (got < 0 && errno == EINTR)
            continue;
        if (got < 0)
            return systemError(path);
        if (got == 0)
            break;
        done += size_t(got);
    }
    bytes.resize(done);
    return bytes;
}

Result<std::vector<uint8_t>> readFile(const std::string &path)
{
    return readStart(path, SIZE_MAX);
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

Result<void> writeAtomically(const std::string &path,
                             const std::function<Result<void>(const std::string &)> &fill)
{
    std::string temporary = path + ".part-XXXXXX";
    const int fd = ::mkstemp(temporary.data());
    if (fd < 0) {
        Error error = systemError(path);
        if (error.kind == ErrorKind::NotFound)
            error.detail = "there is no such folder";
        return error;
    }
    struct stat existing {
    };
    if (::stat(path.c_str(), &existing) == 0) {
        ::fchmod(fd, existing.st_mode & 07777);
    } else {
        const mode_t mask = ::umask(0);
        ::umask(mask);
        ::fchmod(fd, 0666 & ~mask);
    }
    ::close(fd);

    Result<void> done = fill(temporary);
    if (done)
        done = syncFile(temporary);
    if (done && ::rename(temporary.c_str(), path.c_str()) != 0)
        done = systemError(path);
    if (!done) {
        ::unlink(temporary.c_str());
        Error error = done.error();
        if (error.subject == temporary)
            error.subject = path;
        return error;
    }
    // Without this a power cut may forget the rename; failing is harmless (some file systems).
    const auto folder = std::filesystem::path(path).parent_path();
    (void)syncFile(folder.empty() ? "." : folder.string());
    return {};
}

Result<void> writeBytesAtomically(const std::string &path, const void *data, size_t size)
{
    return writeAtomically(path, [&](const std::string &temporary) -> Result<void> {
        const Descriptor file(::open(temporary.c_str(), O_WRONLY | O_CLOEXEC));
        if (file.fd < 0)
            return systemError(path);
        return writeAll(file.fd, data, size, path);
    });
}

Result<std::string> sha256OfFile(const std::string &path)
{
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    if (file.fd < 0)
        return systemError(path);
    const std::unique_ptr<EVP_MD_CTX, void (*)(EVP_MD_CTX *)> context(EVP_MD_CTX_new(),
                                                                      EVP_MD_CTX_free);
    EVP_DigestInit_ex(context.get(), EVP_sha256(), nullptr);
    std::vector<uint8_t> buffer(1 << 20);
    for (;;) {
        const ssize_t got = ::read(file.fd, buffer.data(), buffer.size());
        if (got < 0 && errno == EINTR)
            continue;
        if (got < 0)
            return systemError(path);
        if (got == 0)
            break;
        EVP_DigestUpdate(context.get(), buffer.data(), size_t(got));
    }
    unsigned char digest[EVP_MAX_MD_SIZE];
    unsigned size = 0;
    EVP_DigestFinal_ex(context.get(), digest, &size);
    std::string hex;
    for (unsigned i = 0; i < size; ++i) {
        constexpr char kDigits[] = "0123456789abcdef";
        hex += kDigits[digest[i] >> 4];
        hex += kDigits[digest[i] & 15];
    }
    return hex;
}

Result<void> checkIsNotPhoto(const std::string &path, const std::string &photoPath)
{
    std::error_code ignored;
    if (std::filesystem::equivalent(path, photoPath, ignored) && !ignored)
        return Error{ErrorKind::InvalidArgument, path,
                     "it is the opened photo, which is never written to; choose another name"};
    return {};
}

} // namespace buttonhole
