// Preloaded into a program under test (tests/cli/tst_faults.cpp): a disk on which the n-th call of
// a sort fails, below one folder. By the environment:
//   FAILING_DISK_BELOW  the folder
//   FAILING_DISK_CALL   write, read, rename or sync
//   FAILING_DISK_AT     which of them fails, from 1; 0: none
//   FAILING_DISK_ERROR  errno of the failure
//   FAILING_DISK_COUNT  a file outside of the folder that says at the end how many there were
#include <atomic>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>

#include <dlfcn.h>
#include <sys/types.h>
#include <sys/uio.h>
#include <unistd.h>

namespace
{

std::atomic<int> calls = 0;

const char *variable(const char *name)
{
    const char *value = getenv(name);
    return value ? value : "";
}

bool isBelow(const char *path)
{
    const char *folder = variable("FAILING_DISK_BELOW");
    return *folder != 0 && strncmp(path, folder, strlen(folder)) == 0;
}

bool isBelow(int file)
{
    char link[64];
    char path[4096];
    snprintf(link, sizeof link, "/proc/self/fd/%d", file);
    const ssize_t length = readlink(link, path, sizeof path - 1);
    path[length > 0 ? length : 0] = 0;
    return isBelow(path);
}

template <class Place>
bool fails(const char *sort, Place place)
{
    const int before = errno;
    if (strcmp(variable("FAILING_DISK_CALL"), sort) != 0 || !isBelow(place)) {
        errno = before;
        return false;
    }
    errno = before;
    if (++calls != atoi(variable("FAILING_DISK_AT")))
        return false;
    errno = atoi(variable("FAILING_DISK_ERROR"));
    return true;
}

template <class Function>
Function *original(Function *, const char *name)
{
    return reinterpret_cast<Function *>(dlsym(RTLD_NEXT, name));
}

struct AtTheEnd {
    ~AtTheEnd()
    {
        const char *path = variable("FAILING_DISK_COUNT");
        FILE *file = *path != 0 ? fopen(path, "w") : nullptr;
        if (!file)
            return;
        fprintf(file, "%d", calls.load());
        fclose(file);
    }
} atTheEnd;

} // namespace

#define FAILING(sort, place, result, name, parameters, arguments)                                  \
    extern "C" result name parameters                                                              \
    {                                                                                              \
        static const auto next = original(&name, #name);                                           \
        return fails(sort, place) ? result(-1) : next arguments;                                   \
    }

FAILING("write", file, ssize_t, write, (int file, const void *from, size_t count),
        (file, from, count))
FAILING("write", file, ssize_t, pwrite, (int file, const void *from, size_t count, off_t at),
        (file, from, count, at))
FAILING("write", file, ssize_t, pwrite64, (int file, const void *from, size_t count, off64_t at),
        (file, from, count, at))
FAILING("write", file, ssize_t, writev, (int file, const iovec *from, int count),
        (file, from, count))
FAILING("write", file, int, ftruncate, (int file, off_t size) noexcept, (file, size))
FAILING("read", file, ssize_t, read, (int file, void *to, size_t count), (file, to, count))
FAILING("read", file, ssize_t, pread, (int file, void *to, size_t count, off_t at),
        (file, to, count, at))
FAILING("read", file, ssize_t, pread64, (int file, void *to, size_t count, off64_t at),
        (file, to, count, at))
FAILING("rename", to, int, rename, (const char *from, const char *to) noexcept, (from, to))
FAILING("rename", to, int, renameat2,
        (int fromFolder, const char *from, int toFolder, const char *to, unsigned flags) noexcept,
        (fromFolder, from, toFolder, to, flags))
FAILING("sync", file, int, fsync, (int file), (file))
FAILING("sync", file, int, fdatasync, (int file), (file))
