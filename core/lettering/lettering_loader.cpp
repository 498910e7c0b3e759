#include "base/memo.h"
#include "io/loadable.h"
#include "lettering/lettering.h"

#include <mutex>

namespace buttonhole
{

namespace
{

Memo &drawings()
{
    static Memo memo(16);
    return memo;
}

} // namespace

Result<const LetteringApi *> loadLettering()
{
    static std::mutex mutex; // guards `api`
    static const LetteringApi *api = nullptr;
    const std::scoped_lock lock(mutex);
    if (api)
        return api;
    const auto entry =
        loadEntry(placesOf(BUTTONHOLE_LETTERING_INSTALLED, BUTTONHOLE_LETTERING_BUILD),
                  "buttonholeLettering");
    if (!entry)
        return entry.error();
    api = reinterpret_cast<const LetteringApi *(*)()>(*entry)();
    return api;
}

Result<std::shared_ptr<const Drawing>> drawingOf(const std::string &text, const std::string &font,
                                                 const std::string &picture, uint64_t content)
{
    Error problem{ErrorKind::Damaged, "signature", "it cannot be drawn"};
    const auto found = drawings().find(content, [&]() -> Memo::Value {
        const auto api = loadLettering();
        if (!api) {
            problem = api.error();
            return nullptr;
        }
        auto made = picture.empty() ? (*api)->text(text, font) : (*api)->picture(picture);
        if (!made) {
            problem = made.error();
            return nullptr;
        }
        return std::make_shared<const std::shared_ptr<const Drawing>>(std::move(*made));
    });
    if (!found)
        return problem;
    return *std::static_pointer_cast<const std::shared_ptr<const Drawing>>(found);
}

bool hasDrawing(uint64_t content)
{
    return drawings().peek(content) != nullptr;
}

} // namespace buttonhole
