// Text as a take: read, written and read again.
#include "document/take_json.h"

#include <nlohmann/json.hpp>

#include <cstdlib>
#include <string>

using namespace buttonhole;

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    std::vector<std::string> notes;
    const auto take =
        takeFromText({reinterpret_cast<const char *>(data), size}, 64, 48, "take", notes);
    if (!take)
        return 0;
    const std::string text = takeToJson(*take, nullptr).dump();
    const auto again = takeFromText(text, 64, 48, "take", notes);
    if (!again || takeToJson(*again, nullptr).dump() != text)
        std::abort();
    return 0;
}
