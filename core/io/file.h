#pragma once

#include "base/result.h"

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

namespace buttonhole
{

/// A whole file. Errors: NotFound, NoPermission, Io, Damaged (empty).
Result<std::vector<uint8_t>> readFile(const std::string &path);
/// Up to `count` first bytes.
Result<std::vector<uint8_t>> readStart(const std::string &path, size_t count);
Result<uint64_t> fileSize(const std::string &path);

/// Writes a file so that it is either whole or not there: `fill` writes to a temporary file in the
/// same folder, which is flushed to disk and then renamed over `path`. On any error the temporary
/// file is removed and what stood at `path` is untouched.
/// Errors: NoPermission, NotFound (no such folder), DiskFull, and whatever `fill` returns.
Result<void> writeAtomically(const std::string &path,
                             const std::function<Result<void>(const std::string &temporary)> &fill);
Result<void> writeBytesAtomically(const std::string &path, const void *data, size_t size);
/// write(2) until all is written.
Result<void> writeAll(int descriptor, const void *data, size_t size, const std::string &subject);

/// Lower-case hexadecimal SHA-256 (FIPS 180-4). Reads in pieces.
Result<std::string> sha256OfFile(const std::string &path);

/// Refuses a path to write to that leads to the opened photo (links followed): InvalidArgument.
Result<void> checkIsNotPhoto(const std::string &path, const std::string &photoPath);

} // namespace buttonhole
