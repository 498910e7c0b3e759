#pragma once

#include "tone/grey_mix.h"

#include <nlohmann/json_fwd.hpp>

namespace buttonhole
{

// The grey mix as JSON (docs/format.md). What is at its default is left out.

nlohmann::json greyToJson(const GreyMix &mix);
/// @param notes sentences for the user about what this version does not know
/// Errors: InvalidArgument for values out of range.
Result<GreyMix> greyFromJson(const nlohmann::json &in, std::vector<std::string> &notes);

std::string_view toWord(GreyMix::Base base); ///< e.g. "luminance"
std::string_view toWord(Glass glass);        ///< "none", "yellow", ...

} // namespace buttonhole
