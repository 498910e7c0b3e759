#pragma once

#include "document/zip.h"
#include "io/file.h"
#include "mask/step.h"

#include <map>
#include <set>

namespace buttonhole
{

/// Which entries of a file hold the masks of which shapes: shapes never change, so that saving
/// again copies those of old ones instead of encoding them anew.
struct SavedMasks {
    std::string path;
    FileStamp stamp;                                         ///< the file's, as it was written
    std::map<std::pair<uint64_t, int>, std::string> entries; ///< content id, place in the shape
};

/// Gathers the masks of all takes as PNG cut to what differs from `outside`: those of shapes that
/// the last file holds are copied out of it, the others encoded on all cores.
class ZipMaskWriter final : public MaskWriter
{
public:
    explicit ZipMaskWriter(const SavedMasks &last);
    void startTake(const std::string &folder) { m_folder = folder; }
    void startShape(uint64_t content) override;
    nlohmann::json put(const std::string &name, const MaskPlane &plane, uint16_t outside) override;
    /// Puts all of them into the file; `saved` receives where. Errors: Cancelled, OutOfMemory.
    Result<void> writeTo(ZipWriter &zip, SavedMasks &saved, const Run &run) const;

private:
    struct Order {
        std::pair<uint64_t, int> key;
        std::string entry;
        MaskPlane plane; ///< a copy of pointers
        Rect area;
    };
    bool isKept(const Order &order) const;

    const SavedMasks &m_last;
    std::optional<ZipReader> m_lastZip;
    std::string m_folder;
    uint64_t m_content = 0;
    int m_place = 0;
    std::vector<Order> m_orders;
};

/// Reads the masks of a take out of a file; `used` receives the entries that it read.
class ZipMaskReader final : public MaskReader
{
public:
    ZipMaskReader(const ZipReader &zip, std::string folder, std::set<std::string> &used);
    /// Errors: NotFound, Damaged, TooLarge.
    Result<MaskPlane> get(const nlohmann::json &reference) override;

private:
    const ZipReader &m_zip;
    std::string m_folder;
    std::set<std::string> &m_used;
};

/// What a mask is where its picture does not say. Throws what JSON does.
uint16_t outsideOf(const nlohmann::json &reference);

} // namespace buttonhole
