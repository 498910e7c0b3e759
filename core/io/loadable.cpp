#include "io/loadable.h"

#include <dlfcn.h>

#include <filesystem>

namespace buttonhole
{

namespace fs = std::filesystem;

std::vector<std::string> placesOf(const std::string &installed, const std::string &build)
{
    std::error_code ignored;
    const auto program = fs::read_symlink("/proc/self/exe", ignored);
    return {(program.parent_path() / installed).string(), build};
}

Result<void *> loadEntry(const std::vector<std::string> &places, const char *entry)
{
    std::string detail;
    for (const std::string &place : places) {
        void *module = dlopen(place.c_str(), RTLD_NOW | RTLD_LOCAL);
        if (!module) {
            detail = dlerror();
            continue;
        }
        if (void *found = dlsym(module, entry))
            return found;
    }
    return Error{ErrorKind::NotFound, fs::path(places.front()).filename().string(), detail};
}

} // namespace buttonhole
