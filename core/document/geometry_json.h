#pragma once

#include "geometry/picture_map.h"
#include "mask/step.h"

namespace buttonhole
{

nlohmann::json rectToJson(const Rect &rect);
/// What is no pixel's number is -1. Throws what JSON does.
Rect rectFromJson(const nlohmann::json &in);

nlohmann::json geometryToJson(const Geometry &geometry);
/// @param reader knows the photo's size, and gathers notes
/// Errors: InvalidArgument, by the member's name.
Result<Geometry> geometryFromJson(const nlohmann::json &in, MaskReader &reader);

} // namespace buttonhole
