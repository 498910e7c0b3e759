#pragma once

#include "document/same_again.h"

#include <QString>

namespace buttonhole::app
{

/// A group of a take as the window calls it: "Crop's ratio".
QString groupName(std::string_view id);
/// What somebody should know of a preset that was put on; empty: all of it fitted.
QString wordsOf(const CarryReport &report);

} // namespace buttonhole::app
