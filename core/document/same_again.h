#pragma once

#include "document/preset.h"

namespace buttonhole
{

/// A keep or tone on another photo, beside what it was on the first.
struct CarriedLine {
    std::string name;
    float sure = 0; ///< 0..1: how much what it covers looks like what it covered
    std::optional<SeenPart> was;
    std::optional<SeenPart> now; ///< nothing: it covers nothing
};

/// What became of a preset on one photo.
struct CarryReport {
    std::vector<CarriedStep> steps;
    std::vector<CarriedLine> lines;

    static constexpr float kSure = 0.5F;
    /// Somebody should look at it: a subject was not found, or covers something else.
    bool wantsALook() const;
};

/// A take with a preset's groups, subjects looked for in its photo, and its masks compared with
/// what they were.
/// @param placesAll see PresetUse
/// Errors: Cancelled; NotFound, Damaged (models).
Result<Take> withPresetOn(Take take, const Preset &preset, const PhotoLevels &levels,
                          bool placesAll, CarryReport &report, const Run &run = {});

} // namespace buttonhole
