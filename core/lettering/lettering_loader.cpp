#include "base/memo.h"
#include "io/loadable.h"
#include "lettering/lettering.h"
#include "lettering/svg_drawing.h"

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

Result<std::shared_ptr<const Drawing>> drawingOfPicture(const std::string &bytes)
{
    if (!bytes.starts_with("\x89PNG"))
        return drawingOfSvg(bytes);
    const auto api = loadLettering();
    return api ? (*api)->png(bytes) : api.error();
}

Result<std::shared_ptr<const Drawing>> drawingOf(const std::string &text, const std::string &font,
                                                 const std::string &picture, uint64_t content)
{
    using Made = Result<std::shared_ptr<const Drawing>>;
    const auto make = [&]() -> Made {
        if (!picture.empty())
            return drawingOfPicture(picture);
        const auto api = loadLettering();
        return api ? (*api)->text(text, font) : api.error();
    };
    // What cannot be drawn is not tried again: that may have taken long.
    const auto found = drawings().find(content, [&]() -> Memo::Value {
        auto made = make();
        if (!made && made.error().kind == ErrorKind::OutOfMemory)
            return nullptr;
        return std::make_shared<const Made>(std::move(made));
    });
    if (!found)
        return signatureError(ErrorKind::OutOfMemory, "");
    return *std::static_pointer_cast<const Made>(found);
}

bool hasDrawing(uint64_t content)
{
    return drawings().peek(content) != nullptr;
}

} // namespace buttonhole
