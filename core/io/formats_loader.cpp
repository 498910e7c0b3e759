#include "io/formats/formats.h"

#include <dlfcn.h>

#include <filesystem>
#include <mutex>

namespace buttonhole
{

Result<const FormatsApi *> loadFormats()
{
    static std::mutex mutex; // guards `api`
    static const FormatsApi *api = nullptr;
    const std::scoped_lock lock(mutex);
    if (api)
        return api;

    std::error_code ignored;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", ignored);
    const std::string places[] = {(program.parent_path() / BUTTONHOLE_FORMATS_INSTALLED).string(),
                                  BUTTONHOLE_FORMATS_BUILD};
    std::string detail;
    for (const std::string &place : places) {
        void *module = dlopen(place.c_str(), RTLD_NOW | RTLD_LOCAL);
        if (!module) {
            detail = dlerror();
            continue;
        }
        using Entry = const FormatsApi *(*)();
        const auto entry = reinterpret_cast<Entry>(dlsym(module, "buttonholeFormats"));
        if (entry) {
            api = entry();
            return api;
        }
    }
    return Error{ErrorKind::NotFound, "buttonhole-formats.so", detail};
}

} // namespace buttonhole
