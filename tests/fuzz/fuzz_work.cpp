// Bytes as a .buttonhole file: read, its photo sought and unpacked, and what was read saved again.
#include "document/container.h"

#include <cstdlib>

using namespace buttonhole;

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static const TemporaryFolder folder;
    const std::string path = folder.path() + "/work.buttonhole";
    if (!writeBytesAtomically(path, data, size))
        std::abort();
    auto container = loadContainer(path);
    if (!container)
        return 0;
    const auto found = findPhoto(container->photo, path, folder.path() + "/photos");
    if (found && found->path.rfind(folder.path(), 0) != 0 &&
        !isPhotoOf(container->photo, found->path))
        std::abort(); // it led somewhere else
    if (!saveContainer(*container, folder.path() + "/again.buttonhole", path + ".jpg", {}))
        std::abort();
    if (!loadContainer(folder.path() + "/again.buttonhole"))
        std::abort(); // what can be read can be saved and read again
    return 0;
}
