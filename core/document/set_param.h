#pragma once

#include "document/take.h"

namespace buttonhole
{

/// A take with one number changed, as the command line words it: "grey.tone.contrast=20" or
/// "keep:Teal ball.featherPx=3". Ids are those of greyParams() and keepParams(), as in JSON.
/// Errors: NotFound (no such keep or number; the detail lists those there are), InvalidArgument (no
/// number, or out of its range).
Result<Take> withParam(Take take, const std::string &assignment);

} // namespace buttonhole
