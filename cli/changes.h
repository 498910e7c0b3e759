#pragma once

#include "document/preset.h"
#include "io/photo_levels.h"
#include "job/opened.h"
#include "prepare.h"

#include <optional>
#include <string>
#include <vector>

namespace buttonhole::cli
{

/// What changes a take: its grey as a whole, or single numbers.
struct ChangeArguments {
    std::string look;
    double strength = 100;            ///< of the look, percent
    bool finds = false;               ///< the grey, by Auto
    FindingArguments find;            ///< of what prepares the photo
    std::vector<std::string> locals;  ///< starts of local tones, each with or without ":KEEP"
    std::vector<std::string> ends;    ///< starts of lines of the finish
    std::vector<std::string> presets; ///< names, or files
    bool placesAll = false;           ///< of presets, also strokes and outlines of another photo
    std::string sign;                 ///< text of a signature
    std::string signFont;             ///< its font
    std::string signWith;             ///< or a file to sign with: PNG or SVG
    std::vector<std::string> sets;    ///< single numbers, see withParam()
    std::vector<int> crop;            ///< x, y, width, height, px of the photo; none: the take's
    std::vector<int> deliver;         ///< width, height, px; 0, 0: its own size; none: the take's
    int quarterTurns = -1;            ///< the same
    std::optional<bool> mirrors;
};

/// A command looks at smaller levels of a photo: exports do with the full size, unless the take
/// looks around or something is to be found.
bool needsLevels(const Take &take, const ChangeArguments &change);
/// One of the store, or a file whose name ends in .json. Errors: those of PresetStore::find() and
/// readPresetFile().
Result<Preset> presetNamed(const std::string &name, const OutputOptions &options);
/// Errors: NotFound, with those there are.
Result<const Keep *> keepNamed(const Take &take, const std::string &name);
/// A file opened, and its take changed.
struct ChangedTake {
    Opened opened;
    Take take;
};
/// What render, grey and preset begin with.
/// @param outputs that are going to be written; @param isWhole all levels are needed
/// Errors: those of opening, of checkOutputs() and of withChanges().
Result<ChangedTake> openChanged(const std::string &file, const std::string &photo,
                                const std::string &take, const ChangeArguments &change,
                                const std::vector<std::string> &outputs, bool isWhole,
                                const OutputOptions &options);
/// The take with what the command line changes of it.
Result<Take> withChanges(Take take, const ChangeArguments &arguments, const PhotoLevels &levels,
                         const OutputOptions &options);

} // namespace buttonhole::cli
