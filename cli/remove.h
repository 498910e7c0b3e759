#pragma once

#include "output.h"

#include <string>
#include <vector>

namespace buttonhole::cli
{

struct RemoveArguments {
    std::string file;
    std::string photo;
    std::string take;
    std::string keep; ///< whose mask it is
    std::string mask; ///< or a grey picture of the photo's size
    std::string out;
    int growPx = 6; ///< the mask is made larger by that: shadows and soft edges belong to a thing
    int attempt = 0;
    std::vector<int> source; ///< x, y, width, height, px of the photo; none: all round about
};

/// Writes the photo without what a mask covers.
int remove(const RemoveArguments &arguments, const OutputOptions &options);

} // namespace buttonhole::cli
