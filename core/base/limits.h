#pragma once

#include "base/result.h"

#include <initializer_list>

namespace buttonhole
{

/// A number and the range it must be in.
struct Limit {
    const char *name;
    float value;
    float least;
    float most;
};

/// Errors: InvalidArgument for the first that is out of its range or not a number.
inline Result<void> checkLimits(std::initializer_list<Limit> limits)
{
    for (const Limit &limit : limits)
        if (!(limit.value >= limit.least && limit.value <= limit.most)) // NaN is refused too
            return Error{ErrorKind::InvalidArgument, limit.name,
                         "a number from " + std::to_string(limit.least) + " to " +
                             std::to_string(limit.most) + " is expected"};
    return {};
}

} // namespace buttonhole
