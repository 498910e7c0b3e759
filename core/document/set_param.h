#pragma once

#include "document/take.h"

namespace buttonhole
{

/// A take with one number changed, as the command line words it: "grey.tone.contrast=20",
/// "keep:Teal ball.featherPx=3"; "tone:Wall.strength=0.5" is the local tone's own,
/// "tone:Wall.KIND.ID=1" of its adjustment of that kind, and so are "prepare.KIND.ID=1" and
/// "finish.KIND.ID=1". Ids are those of the Param rows, as in JSON. Errors: NotFound (no such keep,
/// kind or number; the detail lists those there are), InvalidArgument (no number, or out of its
/// range).
Result<Take> withParam(Take take, const std::string &assignment);

} // namespace buttonhole
