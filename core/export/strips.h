#pragma once

#include "base/rect.h"
#include "matting/soft_edge.h"
#include "raster/mask_plane.h"

#include <utility>

#include <unistd.h>

namespace buttonhole
{

// What all that writes pictures strip by strip has in common.

inline constexpr int kStripRows = kTileSize;
inline constexpr size_t kStageBytes = size_t(96) << 20; ///< of stages kept meanwhile

/// The first row after `y` where a strip ends: strips lie on the grid of tiles.
inline int stripEnd(int y, const PictureRect &picture)
{
    return std::min(picture.y1, (y / kStripRows + 1) * kStripRows);
}

/// A size with its long edge so long, never enlarged; 0: as it is.
std::pair<int, int> outputSize(std::pair<int, int> own, int longEdgePx);

/// Nothing is exported whose edges would be harder than they are meant to be.
inline Result<void> checkEdges(bool areSoft)
{
    return areSoft ? softEdgesReady() : Result<void>{};
}

struct OpenFile {
    explicit OpenFile(int value) : fd(value) {}
    ~OpenFile()
    {
        if (fd >= 0)
            ::close(fd);
    }
    OpenFile(const OpenFile &) = delete;
    OpenFile &operator=(const OpenFile &) = delete;
    int fd;
};

} // namespace buttonhole
