#include "dng.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <string>

namespace buttonhole::test
{

namespace
{

/// One TIFF directory, entries in the order of their tags.
class Directory
{
public:
    enum Type { Byte = 1, Ascii = 2, Short = 3, Long = 4, Rational = 5, SignedRational = 10 };

    void add(uint16_t tag, Type type, const std::vector<uint32_t> &values)
    {
        std::vector<uint8_t> bytes;
        for (const uint32_t v : values)
            for (int i = 0; i < sizeOf(type); ++i)
                bytes.push_back(uint8_t(v >> (8 * i)));
        const bool isRatio = type == Rational || type == SignedRational;
        m_entries.push_back({tag, type, uint32_t(values.size()) / (isRatio ? 2 : 1), bytes});
    }
    void add(uint16_t tag, const std::string &text)
    {
        std::vector<uint32_t> values(text.begin(), text.end());
        values.push_back(0);
        add(tag, Ascii, values);
    }
    void addRatios(uint16_t tag, Type type, const std::vector<double> &values)
    {
        constexpr double kBelow = 10000;
        std::vector<uint32_t> parts;
        for (const double v : values) {
            parts.push_back(uint32_t(int32_t(std::lround(v * kBelow))));
            parts.push_back(uint32_t(kBelow));
        }
        add(tag, type, parts);
    }
    /// The file: its head, this directory, what does not fit into it, and the strip.
    std::vector<uint8_t> write(const std::vector<uint8_t> &strip)
    {
        constexpr uint16_t kStripOffsets = 273;
        const size_t start = 8 + 2 + 12 * m_entries.size() + 4;
        size_t further = 0;
        for (const Entry &entry : m_entries)
            further += entry.bytes.size() > 4 ? entry.bytes.size() : 0;
        std::vector<uint8_t> out{'I', 'I', 42, 0, 8, 0, 0, 0};
        std::vector<uint8_t> behind;
        put(out, uint32_t(m_entries.size()), 2);
        for (Entry &entry : m_entries) {
            if (entry.tag == kStripOffsets)
                for (size_t i = 0; i < 4; ++i)
                    entry.bytes[i] = uint8_t((start + further) >> (8 * i));
            put(out, entry.tag, 2);
            put(out, uint32_t(entry.type), 2);
            put(out, entry.count, 4);
            if (entry.bytes.size() > 4) {
                put(out, uint32_t(start + behind.size()), 4);
                behind.insert(behind.end(), entry.bytes.begin(), entry.bytes.end());
            } else {
                entry.bytes.resize(4);
                out.insert(out.end(), entry.bytes.begin(), entry.bytes.end());
            }
        }
        put(out, 0, 4);
        out.insert(out.end(), behind.begin(), behind.end());
        out.insert(out.end(), strip.begin(), strip.end());
        return out;
    }

private:
    struct Entry {
        uint16_t tag;
        Type type;
        uint32_t count;
        std::vector<uint8_t> bytes;
    };
    static int sizeOf(Type type) { return type == Short ? 2 : type <= Ascii ? 1 : 4; }
    static void put(std::vector<uint8_t> &out, uint32_t value, int bytes)
    {
        for (int i = 0; i < bytes; ++i)
            out.push_back(uint8_t(value >> (8 * i)));
    }
    std::vector<Entry> m_entries;
};

} // namespace

std::vector<uint8_t> makeDng(int width, int height, const std::array<double, 3> &neutral,
                             const std::function<std::array<double, 3>(int x, int y)> &paint)
{
    constexpr double kWhite = 16000;
    std::vector<uint8_t> strip;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const auto c = size_t(x % 2 + y % 2); // red, green; green, blue
            const double v = std::clamp(paint(x, y)[c] * neutral[c], 0.0, 1.0);
            const auto code = uint16_t(std::lround(v * kWhite));
            strip.push_back(uint8_t(code));
            strip.push_back(uint8_t(code >> 8));
        }
    const auto w = uint32_t(width);
    const auto h = uint32_t(height);
    Directory out;
    out.add(254, Directory::Long, {0});
    out.add(256, Directory::Long, {w});
    out.add(257, Directory::Long, {h});
    out.add(258, Directory::Short, {16});
    out.add(259, Directory::Short, {1});
    out.add(262, Directory::Short, {32803}); // a mosaic of colours
    out.add(271, "Fernhollow");
    out.add(272, "Box");
    out.add(273, Directory::Long, {0});
    out.add(274, Directory::Short, {1});
    out.add(277, Directory::Short, {1});
    out.add(278, Directory::Long, {h});
    out.add(279, Directory::Long, {uint32_t(strip.size())});
    out.add(284, Directory::Short, {1});
    out.add(33421, Directory::Short, {2, 2});
    out.add(33422, Directory::Byte, {0, 1, 1, 2});
    out.add(50706, Directory::Byte, {1, 4, 0, 0});
    out.add(50708, "Fernhollow Box");
    out.add(50717, Directory::Long, {uint32_t(kWhite)});
    // XYZ to the sensor's linear sRGB (IEC 61966-2-1)
    out.addRatios(50721, Directory::SignedRational,
                  {3.2406, -1.5372, -0.4986, -0.9689, 1.8758, 0.0415, 0.0557, -0.2040, 1.0570});
    out.addRatios(50728, Directory::Rational, {neutral[0], neutral[1], neutral[2]});
    out.add(50778, Directory::Short, {21}); // D65
    return out.write(strip);
}

} // namespace buttonhole::test
