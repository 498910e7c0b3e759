#pragma once

#include "document/take.h"
#include "io/photo_levels.h"
#include "output.h"

#include <string>
#include <vector>

namespace buttonhole::cli
{

/// What is found out by itself and set.
struct FindingArguments {
    bool light = false;       ///< by Auto light
    bool straightens = false; ///< by straight edges
    bool spots = false;       ///< mended
    std::string lens;         ///< its name; "auto": what the photo says
};

/// A take with all that was asked for. @param notes what could not be found
/// Errors: NotFound: no lens of that name; Cancelled.
Result<Take> withFindings(Take take, const PhotoLevels &levels, const FindingArguments &arguments,
                          std::vector<std::string> &notes, const Run &run);

struct PrepareArguments {
    std::vector<std::string> photos; ///< or folders of them
    std::string out;                 ///< a picture for one photo, a folder for more
    FindingArguments find;
};

/// Writes photos prepared and in colour; one that fails does not stop the others.
int prepare(const PrepareArguments &arguments, const OutputOptions &options);

} // namespace buttonhole::cli
