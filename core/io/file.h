#pragma once

#include "base/result.h"
#include "base/run.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace buttonhole
{

/// A whole regular file. Errors: NotFound, NoPermission, Io, Damaged (empty), NotAPhoto (a folder,
/// a pipe or a device: those could be waited for for ever).
Result<std::vector<uint8_t>> readFile(const std::string &path);
/// Up to `count` first bytes.
Result<std::vector<uint8_t>> readStart(const std::string &path, size_t count);
/// What comes out of a file, a pipe or a terminal. Errors: as above; Damaged beyond `most` bytes.
Result<std::vector<uint8_t>> readStream(const std::string &path, size_t most);
/// Errors: those of readFile() but Damaged.
Result<uint64_t> fileSize(const std::string &path);

/// How a file stands on the disk; equal while nobody has written or replaced it.
struct FileStamp {
    uint64_t bytes = 0;
    int64_t changedNs = 0; ///< since 1970; 0: there is no such file
    uint64_t node = 0;
    bool exists() const { return changedNs != 0; }
    friend bool operator==(const FileStamp &, const FileStamp &) = default;
};
FileStamp stampOf(const std::string &path);

/// What is done about a file that stands where one is written to.
enum class Overwrite {
    Yes,
    No, ///< it stays; one with the very same bytes counts as written
};
/// A path to write to.
struct OutputPath {
    OutputPath(std::string where, Overwrite whether = Overwrite::Yes)
        : path(std::move(where)), overwrite(whether)
    {
    }
    OutputPath(const char *where) : path(where) {}
    std::string path;
    Overwrite overwrite = Overwrite::Yes;
};

/// Writes a file so that it is either whole or not there: `fill` writes to a temporary file in the
/// same folder, which is flushed to disk and then renamed to the path. On any error the temporary
/// file is removed and what stood at the path is untouched. A link there stays one: what it leads
/// to is replaced. The temporary name is short, so that any name a folder can hold can be written.
/// Errors: NoPermission (a write-protected file too), NotFound (no such folder), DiskFull, Conflict
/// (something else is there and may not be overwritten), and whatever `fill` returns.
Result<void> writeAtomically(const OutputPath &path,
                             const std::function<Result<void>(const std::string &temporary)> &fill);
Result<void> writeBytesAtomically(const OutputPath &path, const void *data, size_t size);
/// Removes temporary files of programs that were killed while they wrote into a folder.
void removeLeftovers(const std::string &folder);
/// write(2) until all is written.
Result<void> writeAll(int descriptor, const void *data, size_t size, const std::string &subject);

/// SHA-256 (FIPS 180-4) of what is added.
class Sha256
{
public:
    Sha256();
    void add(const void *data, size_t size);
    std::string hex(); ///< lower case; ends it

private:
    std::shared_ptr<void> m_context;
};
/// Lower-case hexadecimal SHA-256. Reads in pieces. Errors: those of readFile(), Cancelled.
Result<std::string> sha256OfFile(const std::string &path, const Run &run = {});

/// Holds off other programs of ours that would write many files into a folder, for as long as it
/// lives. The kernel lets go of it with the process.
class FolderLock
{
public:
    /// Null where another one has it. A file system that knows no locks gives one that holds off
    /// nobody.
    static std::shared_ptr<const FolderLock> take(const std::string &folder);
    ~FolderLock();
    FolderLock(const FolderLock &) = delete;
    FolderLock &operator=(const FolderLock &) = delete;

private:
    explicit FolderLock(int descriptor) : m_descriptor(descriptor) {}
    int m_descriptor;
};

/// A private folder of its own in the temporary one, gone with the object and all that is in it.
class TemporaryFolder
{
public:
    TemporaryFolder();
    ~TemporaryFolder();
    TemporaryFolder(const TemporaryFolder &) = delete;
    TemporaryFolder &operator=(const TemporaryFolder &) = delete;
    /// Empty where none could be made.
    const std::string &path() const { return m_path; }

private:
    std::string m_path;
};

/// Makes sure of a folder that nobody but the user can look into or write to; what leads there may
/// be made too. Errors: NoPermission (it is a link, or somebody else's), those of the system.
Result<void> makePrivateFolder(const std::string &path);

/// Do both paths lead to one file, links followed? Neither need be there.
bool isSameFile(const std::string &a, const std::string &b);
/// Refuses a path to write to that leads to the opened photo: InvalidArgument.
Result<void> checkIsNotPhoto(const std::string &path, const std::string &photoPath);
/// Refuses outputs that lead to an input or to another output; empty ones are passed over:
/// InvalidArgument.
Result<void> checkOutputs(const std::vector<std::string> &outputs,
                          const std::vector<std::string> &inputs);

/// The file name's ending in lower case with its dot: ".jpg"; empty where there is none.
std::string endingOf(const std::string &path);
/// A name in the folder of `path` that is free: "work.ending", then "work 2.ending", ...
std::string freeNameBeside(const std::string &path);

} // namespace buttonhole
