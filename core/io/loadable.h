#pragma once

#include "base/result.h"

#include <string>
#include <vector>

namespace buttonhole
{

/// Places of a file of this installation: beside the running program, and in the build.
/// @param installed relative to the program's folder
std::vector<std::string> placesOf(const std::string &installed, const std::string &build);

/// Opens the first of some shared objects that can be, and finds its entry.
/// Errors: NotFound, which names the object (the installation is incomplete).
Result<void *> loadEntry(const std::vector<std::string> &places, const char *entry);

} // namespace buttonhole
