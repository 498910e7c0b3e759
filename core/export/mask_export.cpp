#include "export/mask_export.h"

#include "document/take.h"
#include "export/strips.h"
#include "io/file.h"
#include "io/png.h"
#include "render/mask_stage.h"

#include <algorithm>

#include <fcntl.h>

namespace buttonhole
{

Result<void> exportMask(const PhotoLevels &levels, const Keep &keep, int bits,
                        const OutputPath &output, const Run &run)
{
    const std::string &path = output.path;
    const Photo &photo = levels.photo();
    if (bits != 8 && bits != 16)
        return Error{ErrorKind::InvalidArgument, path, "bits are 8 or 16"};
    if (auto fine = checkIsNotPhoto(path, photo.path); !fine)
        return fine;
    if (auto fine = checkEdges(!keep.softBand().isNone()); !fine)
        return fine;
    const int width = photo.width;
    const int height = photo.height;
    PictureSpec spec;
    spec.width = width;
    spec.height = height;
    spec.channels = 1;
    spec.bits = bits;
    return writeAtomically(output, [&](const std::string &temporary) -> Result<void> {
        const OpenFile file(::open(temporary.c_str(), O_WRONLY | O_CLOEXEC));
        if (file.fd < 0)
            return systemError(path);
        auto writer = makePngWriter(file.fd, spec, path);
        if (!writer)
            return writer.error();
        std::vector<uint16_t> strip(size_t(width) * kStripRows);
        std::vector<uint8_t> strip8(bits == 8 ? strip.size() : 0);
        Take take;
        take.keeps.push_back(keep);
        take.keeps[0].on = true;
        StageCache cache(keep.hasMargin() ? kStageBytes : 0);
        for (int y = 0; y < height; y += kStripRows) {
            if (run.stopped())
                return Error{ErrorKind::Cancelled, path, {}};
            const int rows = std::min(kStripRows, height - y);
            parallelTiles({0, y, width, y + rows}, [&](const Rect &tile) {
                std::vector<uint16_t> values(tile.area());
                combinedMask(levels, take, 0, tile, values.data(), nullptr, &cache);
                for (int row = tile.y0; row < tile.y1; ++row)
                    std::copy_n(values.data() + size_t(row - tile.y0) * size_t(tile.width()),
                                tile.width(),
                                strip.data() + size_t(row - y) * size_t(width) + tile.x0);
            });
            for (size_t i = 0; i < strip8.size(); ++i)
                strip8[i] = uint8_t((uint32_t(strip[i]) * 255U + 32767U) / 65535U);
            const void *from = bits == 8 ? static_cast<const void *>(strip8.data()) : strip.data();
            if (auto done = (*writer)->writeRows(from, rows); !done)
                return done;
            run.report(float(y + rows) / float(height));
        }
        return (*writer)->finish();
    });
}

} // namespace buttonhole
