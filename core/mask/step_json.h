#pragma once

#include "base/param_json.h"
#include "mask/pixel_step.h"

#include <nlohmann/json.hpp>

#include <cmath>
#include <string>

namespace buttonhole
{

inline Error wrongInput(const std::string &what, const std::string &detail)
{
    return {ErrorKind::InvalidArgument, what, detail};
}

/// Far outside any photo: places are bounded so that arithmetic on them is safe.
inline constexpr float kFarthestPx = 200000;
/// More points than that in one list no hand makes: memory and time for them are bounded.
inline constexpr size_t kMostPoints = 100000;
inline constexpr size_t kMostPicks = 1000; ///< the same of what each pixel is compared with

/// "places": [[x, y], ...]; absent where there are none.
void placesToJson(nlohmann::json &out, const std::vector<PhotoPoint> &places,
                  const char *name = "places");
Result<std::vector<PhotoPoint>> placesFromJson(const nlohmann::json &in,
                                               const char *name = "places");
/// [x, y]
Result<PhotoPoint> pointFromJson(const nlohmann::json &in, const char *name);

} // namespace buttonhole
