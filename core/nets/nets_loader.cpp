#include "io/file.h"
#include "io/loadable.h"
#include "nets/nets.h"

#include <cstdlib>
#include <filesystem>
#include <map>
#include <mutex>
#include <optional>

namespace buttonhole
{

namespace
{

namespace fs = std::filesystem;

/// What this version was made with; the class list is text that users may translate.
const std::map<std::string, std::string> kDigests{
    {"edge.onnx", "22974aaae56589b8fce62441ed2ec78dffbcb8a7fff2a113117357909b78d43d"},
    {"isnet_f16.onnx", "8bb24eaa3dd1016eefb4e4ca34c90faa07415747f3baead32775a47854148d65"},
    {"nanodet_g_416.onnx", "5e0f8a83289a9558c1b7558bce625ef460f03632a6742e0306e96b511f3e4a39"},
};

std::string placeOf(const std::string &name)
{
    std::vector<std::string> places =
        placesOf(std::string(BUTTONHOLE_MODELS_INSTALLED) + "/" + name,
                 std::string(BUTTONHOLE_MODELS_BUILD) + "/" + name);
    if (const char *own = std::getenv("BUTTONHOLE_MODELS"))
        places = {std::string(own) + "/" + name};
    std::error_code ignored;
    for (const std::string &place : places)
        if (fs::exists(place, ignored))
            return place;
    return {};
}

} // namespace

Result<const NetsApi *> loadNets()
{
    static std::mutex mutex; // guards `api`
    static const NetsApi *api = nullptr;
    const std::scoped_lock lock(mutex);
    if (api)
        return api;
    const auto entry =
        loadEntry(placesOf(BUTTONHOLE_NETS_INSTALLED, BUTTONHOLE_NETS_BUILD), "buttonholeNets");
    if (!entry)
        return entry.error();
    api = reinterpret_cast<const NetsApi *(*)()>(*entry)();
    return api;
}

Result<std::string> findModel(const std::string &name)
{
    struct Checked {
        std::mutex mutex; // held while the file is read: others do not wait for it
        std::optional<bool> isWhole;
    };
    static std::mutex mutex; // guards `all`
    static std::map<std::string, Checked> all;
    const std::string place = placeOf(name);
    if (place.empty())
        return Error{ErrorKind::NotFound, "models/" + name, "reinstall Buttonhole to have it back"};
    const auto digest = kDigests.find(name);
    if (digest == kDigests.end())
        return place;
    Checked &checked = [&]() -> Checked & {
        const std::scoped_lock lock(mutex);
        return all[place];
    }();
    const std::scoped_lock lock(checked.mutex);
    if (!checked.isWhole) {
        const auto found = sha256OfFile(place);
        if (!found)
            return found.error();
        checked.isWhole = *found == digest->second;
    }
    if (!*checked.isWhole)
        return Error{ErrorKind::Damaged, place, "reinstall Buttonhole to have it whole"};
    return place;
}

} // namespace buttonhole
