#pragma once

#include <atomic>
#include <cerrno>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <system_error>

namespace buttonhole
{

/// Thrown where what was moved to the file does not come back: it stays there, to be asked for
/// again. What it happens to (a save, a tile) fails; nothing goes on without the pixels.
struct SwapLost : std::system_error {
    SwapLost()
        : std::system_error(EIO, std::generic_category(),
                            "masks that were moved to the disk do not come back")
    {
    }
};

/// A nameless temporary file for what memory should not hold. It is gone with the process, however
/// that ends. Thread-safe.
class SwapFile
{
public:
    /// In this folder, which must be there. Null where no such file can be made.
    static std::shared_ptr<SwapFile> create(const std::string &folder);
    ~SwapFile();
    SwapFile(const SwapFile &) = delete;
    SwapFile &operator=(const SwapFile &) = delete;

    /// Where the bytes were put; nothing when the disk is full (hasFailed() then stays true).
    std::optional<uint64_t> write(const void *bytes, size_t size);
    bool read(uint64_t offset, void *bytes, size_t size) const;
    /// Gives the room back to the disk.
    void release(uint64_t offset, size_t size);
    bool hasFailed() const { return m_failed; }
    uint64_t bytesInUse() const { return m_inUse; }

private:
    explicit SwapFile(int descriptor) : m_descriptor(descriptor) {}
    int m_descriptor;
    std::atomic<uint64_t> m_end = 0;
    std::atomic<uint64_t> m_inUse = 0;
    std::atomic<bool> m_failed = false;
};

} // namespace buttonhole
