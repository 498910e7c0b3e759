#include "io/picture_end.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <fstream>
#include <string_view>
#include <vector>

namespace buttonhole
{

namespace
{

/// A file read at places, and never beyond its end.
class Bytes
{
public:
    explicit Bytes(const std::string &path) : m_file(path, std::ios::binary | std::ios::ate)
    {
        if (m_file)
            m_size = uint64_t(m_file.tellg());
    }
    bool isOpen() const { return m_file.is_open(); }
    bool hasFailed() const { return m_hasFailed; } ///< to read what is there
    uint64_t size() const { return m_size; }
    /// Empty where there are not so many.
    std::string at(uint64_t place, uint64_t count)
    {
        if (place > m_size || count > m_size - place)
            return {};
        std::string out(count, '\0');
        m_file.clear();
        m_file.seekg(std::streamoff(place));
        m_file.read(out.data(), std::streamsize(count));
        m_hasFailed = m_hasFailed || !m_file;
        return m_file ? out : std::string();
    }
    std::string last(uint64_t count)
    {
        const uint64_t n = std::min(count, m_size);
        return at(m_size - n, n);
    }
    /// Beyond the end: 0.
    uint64_t number(uint64_t place, int bytes, bool isLittle)
    {
        uint64_t out = 0;
        const std::string text = at(place, uint64_t(bytes));
        for (size_t i = 0; i < text.size(); ++i)
            out = out << 8 | static_cast<unsigned char>(text[isLittle ? text.size() - 1 - i : i]);
        return out;
    }

private:
    std::ifstream m_file;
    uint64_t m_size = 0;
    bool m_hasFailed = false;
};

/// RIFF (WebP): its length, even, is all.
bool riffEnds(Bytes &file)
{
    const uint64_t told = file.number(4, 4, true) + 8;
    return told + (told & 1) == file.size() + (file.size() & 1);
}

/// Boxes of ISO 14496-12 (AVIF), one behind the other to the file's last byte.
bool boxesEnd(Bytes &file)
{
    uint64_t at = 0;
    while (at < file.size()) {
        uint64_t length = file.number(at, 4, false);
        if (length == 0)
            return true; // to the end, wherever that is
        if (length == 1)
            length = file.number(at + 8, 8, false);
        if (length < 8 || length > file.size() - at)
            return false;
        at += length;
    }
    return at == file.size();
}

/// TIFF 6.0: the first directory and the strips that it tells of lie within the file.
bool tiffEnds(Bytes &file)
{
    constexpr uint64_t kStripOffsets = 273;
    constexpr uint64_t kStripByteCounts = 279;
    constexpr uint64_t kShort = 3;
    const bool isLittle = file.at(0, 1) == "I";
    const uint64_t directory = file.number(4, 4, isLittle);
    const uint64_t count = file.number(directory, 2, isLittle);
    if (directory == 0 || count == 0 || directory + 2 + 12 * count + 4 > file.size())
        return false;
    std::array<std::vector<uint64_t>, 2> strips;
    for (uint64_t i = 0; i < count; ++i) {
        const uint64_t entry = directory + 2 + 12 * i;
        const uint64_t tag = file.number(entry, 2, isLittle);
        if (tag != kStripOffsets && tag != kStripByteCounts)
            continue;
        const int bytes = file.number(entry + 2, 2, isLittle) == kShort ? 2 : 4;
        const uint64_t values = file.number(entry + 4, 4, isLittle);
        const uint64_t length = values * uint64_t(bytes);
        const uint64_t from = length <= 4 ? entry + 8 : file.number(entry + 8, 4, isLittle);
        if (from + length > file.size())
            return false;
        for (uint64_t n = 0; n < values; ++n)
            strips[tag == kStripOffsets ? 0 : 1].push_back(
                file.number(from + n * uint64_t(bytes), bytes, isLittle));
    }
    for (size_t i = 0; i < std::min(strips[0].size(), strips[1].size()); ++i)
        if (strips[0][i] + strips[1][i] > file.size())
            return false;
    return !strips[0].empty() && strips[0].size() == strips[1].size();
}

bool endsAsItShould(Bytes &file)
{
    const std::string start = file.at(0, std::min<uint64_t>(file.size(), 16));
    const auto begins = [&](std::string_view with) { return start.starts_with(with); };
    const auto hasLately = [&](uint64_t within, std::string_view what) {
        return file.last(within).find(what) != std::string::npos;
    };
    if (start.empty())
        return false;
    if (begins("\xFF\xD8"))
        return file.last(2) == "\xFF\xD9";
    if (begins("\x89PNG"))
        return file.last(8) == "IEND\xAE\x42\x60\x82";
    if (begins("RIFF"))
        return riffEnds(file);
    if (begins(std::string_view("II*\0", 4)) || begins(std::string_view("MM\0*", 4)))
        return tiffEnds(file);
    if (begins("PK"))
        return hasLately(22 + 65535, std::string_view("PK\5\6"));
    if (begins("%PDF"))
        return hasLately(32, "%%EOF");
    if (start.size() >= 12 && start.substr(4, 4) == "ftyp")
        return boxesEnd(file);
    return true;
}

} // namespace

Result<void> checkPictureEnd(const std::string &path)
{
    Bytes file(path);
    if (!file.isOpen())
        return systemError(path);
    const bool isWhole = endsAsItShould(file);
    if (file.hasFailed())
        return Error{ErrorKind::Io, path, "what was written cannot be read again"};
    if (!isWhole)
        return Error{ErrorKind::Damaged, path, "it ends too early"};
    return {};
}

} // namespace buttonhole
