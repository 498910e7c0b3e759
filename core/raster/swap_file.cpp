#include "raster/swap_file.h"

#include <cerrno>

#include <fcntl.h>
#include <unistd.h>

namespace buttonhole
{

namespace
{

constexpr uint64_t kBlock = 4096; // holes are punched in whole blocks of the file system

uint64_t roundedUp(uint64_t size)
{
    return (size + kBlock - 1) / kBlock * kBlock;
}

} // namespace

std::shared_ptr<SwapFile> SwapFile::create(const std::string &folder)
{
    int descriptor = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    if (descriptor < 0) { // a file system without nameless files
        std::string pattern = folder + "/buttonhole-undo-XXXXXX";
        descriptor = ::mkostemp(pattern.data(), O_CLOEXEC);
        if (descriptor >= 0)
            ::unlink(pattern.c_str());
    }
    if (descriptor < 0)
        return nullptr;
    return std::shared_ptr<SwapFile>(new SwapFile(descriptor));
}

SwapFile::~SwapFile()
{
    ::close(m_descriptor);
}

std::optional<uint64_t> SwapFile::write(const void *bytes, size_t size)
{
    const uint64_t offset = m_end.fetch_add(roundedUp(size));
    size_t done = 0;
    while (done < size) {
        const ssize_t now = ::pwrite(m_descriptor, static_cast<const char *>(bytes) + done,
                                     size - done, off_t(offset + done));
        if (now < 0 && errno == EINTR)
            continue;
        if (now <= 0) {
            m_failed = true;
            return std::nullopt;
        }
        done += size_t(now);
    }
    m_inUse += roundedUp(size);
    return offset;
}

bool SwapFile::read(uint64_t offset, void *bytes, size_t size) const
{
    size_t done = 0;
    while (done < size) {
        const ssize_t now = ::pread(m_descriptor, static_cast<char *>(bytes) + done, size - done,
                                    off_t(offset + done));
        if (now < 0 && errno == EINTR)
            continue;
        if (now <= 0)
            return false;
        done += size_t(now);
    }
    return true;
}

void SwapFile::release(uint64_t offset, size_t size)
{
    m_inUse -= roundedUp(size);
#ifdef FALLOC_FL_PUNCH_HOLE
    // Where the file system cannot, the room comes back when the file goes.
    (void)::fallocate(m_descriptor, FALLOC_FL_PUNCH_HOLE | FALLOC_FL_KEEP_SIZE, off_t(offset),
                      off_t(roundedUp(size)));
#endif
}

} // namespace buttonhole
