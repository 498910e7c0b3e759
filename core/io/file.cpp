#include "io/file.h"

#include "io/descriptor.h"

#include <openssl/evp.h>

#include <cerrno>
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
