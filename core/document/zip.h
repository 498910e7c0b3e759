#pragma once

#include "base/result.h"
#include "base/run.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace buttonhole
{

/// Reads entries of a ZIP file.
class ZipReader
{
public:
    /// Errors: NotFound, NoPermission, Damaged.
    static Result<ZipReader> open(const std::string &path);
    std::vector<std::string> names() const;
    bool contains(const std::string &name) const;
    /// @param most bytes that are taken for sense; what says that it holds more is not unpacked
    /// Errors: NotFound, Damaged (checksum), TooLarge.
    Result<std::vector<uint8_t>> read(const std::string &name, uint64_t most) const;
    /// Hands out an entry piece by piece. An entry that packs more than 20 to 1 is refused: no
    /// photo does, but what is made to fill a disk. Errors: as read(), and those of `take`;
    /// Cancelled.
    Result<void> readPieces(const std::string &name, uint64_t most,
                            const std::function<Result<void>(const void *, size_t)> &take,
                            const Run &run) const;

private:
    friend class ZipWriter;
    struct Handle;
    std::shared_ptr<Handle> m_handle;
};

/// Gathers entries and writes them in one go.
class ZipWriter
{
public:
    enum class Compression { Store, Deflate };
    void add(const std::string &name, std::vector<uint8_t> bytes, Compression compression);
    void add(const std::string &name, const std::string &text);
    void addFile(const std::string &name, const std::string &path);
    /// An entry of another file, copied without taking it into memory.
    void addFrom(const std::string &name, const ZipReader &reader, const std::string &entry);
    /// Replaces `path`. Errors: Io, DiskFull.
    Result<void> writeTo(const std::string &path) const;

private:
    struct Entry {
        std::string name;
        std::vector<uint8_t> bytes;
        std::string path; ///< or the entry's name in `reader`
        std::optional<ZipReader> reader;
        Compression compression = Compression::Store;
    };
    std::vector<Entry> m_entries;
};

} // namespace buttonhole
