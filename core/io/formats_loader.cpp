#include "io/formats/formats.h"
#include "io/loadable.h"

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
    const auto entry = loadEntry(placesOf(BUTTONHOLE_FORMATS_INSTALLED, BUTTONHOLE_FORMATS_BUILD),
                                 "buttonholeFormats");
    if (!entry)
        return entry.error();
    api = reinterpret_cast<const FormatsApi *(*)()>(*entry)();
    return api;
}

} // namespace buttonhole
