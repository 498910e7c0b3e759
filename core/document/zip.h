#pragma once

#include "base/result.h"

#include <cstdint>
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
    /// Errors: NotFound, Damaged (checksum), TooLarge.
    Result<std::vector<uint8_t>> read(const std::string &name) const;

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
