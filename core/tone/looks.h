#pragma once

#include "tone/grey_mix.h"

namespace buttonhole
{

/// A named starting point for the grey mix.
struct Look {
    std::string name;
    std::string character; ///< a few words
    GreyMix mix;           ///< `look` is its name
};
const std::vector<Look> &looks();
/// Null where there is none of that name (any case).
const Look *findLook(std::string_view name);

} // namespace buttonhole
