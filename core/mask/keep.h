#pragma once

#include "mask/step.h"

namespace buttonhole
{

/// A named part that stays in colour.
struct Keep {
    uint64_t id = 0;
    std::string name;
    bool on = true;
    float strength = 1.0F; ///< 0..1, how much of the colour comes back
    bool invert = false;   ///< everything but what the steps gather
    std::vector<Step> steps;
    std::string extraJson; ///< members from a newer version, kept as they are

    const Step *findStep(uint64_t stepId) const;
};

/// A keep's final mask: its steps folded in order, then invert, then strength.
/// @param level pyramid level; @param area pixels of that level
/// @param out   area.area() values, uint16 0..65535
/// At level 0 exact; above, steps are folded from their reduced rasters (they differ only where the
/// edges of two steps cross inside one reduced pixel).
void keepMask(const Keep &keep, int level, const Rect &area, uint16_t *out);
/// The same before strength, and the id of all that it depends on.
void foldedMask(const Keep &keep, int level, const Rect &area, uint16_t *out);
uint64_t foldedContent(const Keep &keep);
/// n mask values by the keep's strength, in place.
void applyStrength(float strength, uint16_t *mask, size_t n);

} // namespace buttonhole
