#pragma once

#include "document/take.h"

namespace buttonhole
{

/// Version of the take's JSON, see docs/format.md. A reader refuses files whose "readableFrom" is
/// above this; everything else it does not know it keeps.
inline constexpr int kTakeVersion = 13;

/// @param writer takes the rasters; null: only parameters and strokes are written
nlohmann::json takeToJson(const Take &take, MaskWriter *writer);

/// Errors: InvalidArgument (with the place in the JSON), Newer.
Result<Take> takeFromJson(const nlohmann::json &in, MaskReader &reader);

/// Parses text and reads a take that brings no rasters: its strokes are painted anew.
Result<Take> takeFromText(const std::string &text, int width, int height,
                          const std::string &subject, std::vector<std::string> &notes);

} // namespace buttonhole
