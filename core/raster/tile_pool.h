#pragma once

#include <cstdint>
#include <memory>

namespace buttonhole
{

// Memory for the pixels of one tile. Tiles come and go by the thousand between small things that
// stay; from the common heap they would leave holes that never go back to the system. Some are kept
// for the next taker, so that copying a tile does not fault in fresh pages. Thread-safe.

/// Room for kTileSize x kTileSize values of a mask or a stage.
std::shared_ptr<uint16_t[]> takeTilePixels();
/// Room for kTileSize x kTileSize colours of the screen.
std::shared_ptr<uint32_t[]> takeTileColours();

} // namespace buttonhole
