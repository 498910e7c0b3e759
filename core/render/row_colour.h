#pragma once

#include "colour/colour_look.h"
#include "document/take.h"
#include "render/spill.h"

#include <optional>
#include <vector>

namespace buttonhole
{

/// The colour looks of a take's keeps, those that are off left out.
struct KeepLooks {
    KeepLooks(const Take &take, const SourceColour &colour) : rows(take.keeps.size())
    {
        for (size_t k = 0; k < rows.size(); ++k)
            if (take.keeps[k].on && !take.keeps[k].look.isOff()) {
                rows[k].emplace(take.keeps[k].look, colour);
                any = true;
            }
    }
    bool has(uint16_t owner) const { return owner > 0 && rows[owner - 1U].has_value(); }

    std::vector<std::optional<ColourLookRow>> rows;
    bool any = false;
};

/// What changes the photo's colour where a row of pixels is kept: whose look, and what spilt in.
struct RowColour {
    const uint16_t *owners = nullptr; ///< see combinedMask(); null: no keep has a look
    const Spill *spill = nullptr;
    int row = 0; ///< of the spill's area
};

} // namespace buttonhole
