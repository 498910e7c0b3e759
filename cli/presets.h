#pragma once

#include "changes.h"

namespace buttonhole::cli
{

struct PresetArguments {
    std::string file;
    std::string photo;
    std::string take;
    std::vector<std::string> groups; ///< none: all that the take has something of
    std::string name;
    std::string folder; ///< of the store's
    std::string out;    ///< a file instead of the store
    ChangeArguments change;
};

/// Prints the presets there are, and the groups that one may hold.
int presets(const OutputOptions &options);
/// Makes a preset of a photo's or work's take.
int preset(const PresetArguments &arguments, const OutputOptions &options);

} // namespace buttonhole::cli
