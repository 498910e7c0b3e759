// Bytes as a picture file: JPEG and PNG in the core, all else by the formats module.
#include "io/file.h"
#include "io/photo.h"

#include <cstdlib>

using namespace buttonhole;

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static const TemporaryFolder folder;
    const std::string path = folder.path() + "/photo";
    if (!writeBytesAtomically(path, data, size))
        std::abort();
    const auto photo = loadPhoto(path);
    if (photo && (photo->width < 1 || photo->height < 1))
        std::abort();
    if (photo)
        (void)photo->metadata.summary();
    (void)loadGlance(path, 64);
    return 0;
}
