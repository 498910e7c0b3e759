#pragma once

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

/// A number member within limits, or its default where absent.
/// @param kind the step's, for the error's subject
inline Result<float> numberFrom(const nlohmann::json &in, const char *kind, const char *name,
                                float otherwise, float least, float most)
{
    if (!in.contains(name))
        return otherwise;
    const nlohmann::json &value = in.at(name);
    const float v = value.is_number() ? value.get<float>() : NAN;
    if (!(v >= least && v <= most))
        return wrongInput(std::string(kind) + " " + name,
                          "a number from " + nlohmann::json(least).dump() + " to " +
                              nlohmann::json(most).dump() + " is expected");
    return v;
}

/// Reads several numbers: each has a name, where it goes, and its limits.
struct NumberMember {
    const char *name;
    float *value; ///< holds the default
    float least;
    float most;
};
inline Result<void> readNumbers(const nlohmann::json &in, const char *kind,
                                std::initializer_list<NumberMember> members)
{
    for (const NumberMember &member : members) {
        const auto read =
            numberFrom(in, kind, member.name, *member.value, member.least, member.most);
        if (!read)
            return read.error();
        *member.value = *read;
    }
    return {};
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
