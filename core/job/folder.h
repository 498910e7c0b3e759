#pragma once

#include "base/result.h"

#include <string>
#include <vector>

namespace buttonhole
{

/// The photos and works of a folder, by the endings of their names, in the order of their names;
/// hidden ones are left out. Errors: NotFound, NoPermission, Io.
Result<std::vector<std::string>> photosIn(const std::string &folder);

} // namespace buttonhole
