#include "document/mask_entries.h"

#include "document/json_text.h"
#include "io/png.h"
#include "raster/parallel_tiles.h"

#include <nlohmann/json.hpp>

#include <atomic>

namespace buttonhole
{

using nlohmann::json;

namespace
{

Result<std::vector<uint8_t>> pngOf(const MaskPlane &plane, const Rect &area)
{
    Image<uint16_t> picture(area.width(), area.height(), 1);
    plane.readOnce(area, picture.row(0), picture.stride());
    return encodeGreyPng(picture);
}

void fill(MaskPlane &plane, const Image<uint16_t> &picture, int x0, int y0)
{
    const Rect area{x0, y0, x0 + picture.width(), y0 + picture.height()};
    parallelTiles(area, [&](const Rect &tile) {
        plane.write(tile, picture.pixel(tile.x0 - x0, tile.y0 - y0), picture.stride());
    });
    plane.compact(area);
    // A file of many steps holds more than memory should: what nobody looks at stays packed.
    std::vector<std::shared_ptr<TileBlock>> blocks;
    plane.visitBlocks([&](const auto &block) { blocks.push_back(block); });
    parallelFor(int(blocks.size()), [&](int i) { blocks[size_t(i)]->pack(); });
}

} // namespace

ZipMaskWriter::ZipMaskWriter(const SavedMasks &last) : m_last(last)
{
    if (!last.entries.empty() && stampOf(last.path) == last.stamp)
        if (auto zip = ZipReader::open(last.path))
            m_lastZip = std::move(*zip);
}

void ZipMaskWriter::startShape(uint64_t content)
{
    m_content = content;
    m_place = 0;
}

json ZipMaskWriter::put(const std::string &name, const MaskPlane &plane, uint16_t outside)
{
    json out{{"outside", outside}};
    const std::pair key(m_content, m_place++);
    const Rect area = plane.boundsOfOtherThan(outside);
    if (area.isEmpty())
        return out;
    out["file"] = "masks/" + name + ".png";
    out["x"] = area.x0;
    out["y"] = area.y0;
    m_orders.push_back({key, m_folder + "masks/" + name + ".png", plane, area});
    return out;
}

Result<void> ZipMaskWriter::writeTo(ZipWriter &zip, SavedMasks &saved, const Run &run) const
{
    std::vector<Result<std::vector<uint8_t>>> pngs(m_orders.size(), std::vector<uint8_t>());
    std::vector<char> kept; // libzip is asked on one thread
    for (const Order &order : m_orders)
        kept.push_back(isKept(order));
    std::atomic<int> done = 0;
    parallelFor(int(m_orders.size()), [&](int i) {
        const Order &order = m_orders[size_t(i)];
        if (!run.stopped() && !kept[size_t(i)])
            pngs[size_t(i)] = pngOf(order.plane, order.area);
        run.report(float(++done) / float(m_orders.size() + 1));
    });
    if (run.stopped())
        return Error{ErrorKind::Cancelled, saved.path, {}};
    for (size_t i = 0; i < m_orders.size(); ++i) {
        const Order &order = m_orders[i];
        if (!pngs[i])
            return pngs[i].error();
        if (kept[i])
            zip.addFrom(order.entry, *m_lastZip, m_last.entries.at(order.key));
        else
            zip.add(order.entry, std::move(*pngs[i]), ZipWriter::Compression::Store);
        saved.entries[order.key] = order.entry;
    }
    return {};
}

bool ZipMaskWriter::isKept(const Order &order) const
{
    const auto known = m_last.entries.find(order.key);
    return m_lastZip && known != m_last.entries.end() && m_lastZip->contains(known->second);
}

ZipMaskReader::ZipMaskReader(const ZipReader &zip, std::string folder, std::set<std::string> &used)
    : m_zip(zip), m_folder(std::move(folder)), m_used(used)
{
}

Result<MaskPlane> ZipMaskReader::get(const json &reference)
{
    MaskPlane plane(width, height, outsideOf(reference));
    if (!reference.contains("file"))
        return plane;
    const std::string name = m_folder + reference.at("file").get<std::string>();
    const uint64_t room = uint64_t(width) * uint64_t(height) * 2 + (1 << 20);
    const auto bytes = m_zip.read(name, room);
    if (!bytes)
        return bytes.error();
    m_used.insert(name);
    const Error misfit{ErrorKind::Damaged, name, "it does not fit the photo"};
    const auto size = pngSize(*bytes, name); // before it is unpacked
    if (!size || size->first > width || size->second > height)
        return misfit;
    const auto png = decodePng(*bytes, name, {});
    if (!png)
        return png.error();
    const auto *picture = std::get_if<Image<uint16_t>>(&png->pixels);
    const int64_t x0 = wholeFrom(reference.at("x"));
    const int64_t y0 = wholeFrom(reference.at("y"));
    if (!picture || picture->channels() != 1 || x0 < 0 || y0 < 0 || x0 % kTileSize != 0 ||
        y0 % kTileSize != 0 || x0 > width - picture->width() || y0 > height - picture->height())
        return misfit;
    fill(plane, *picture, int(x0), int(y0));
    return plane;
}

uint16_t outsideOf(const json &reference)
{
    return uint16_t(wholeFrom(reference.at("outside")));
}

} // namespace buttonhole
