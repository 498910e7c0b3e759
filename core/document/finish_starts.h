#pragma once

#include "document/take.h"
#include "light/signature.h"

#include <span>

namespace buttonhole
{

/// A way in which a line of the finish begins. All of it can be seen and changed afterwards.
struct FinishStart {
    std::string_view id; ///< "vignette"
    AdjustmentRef (*make)();
    bool isItsKinds = false; ///< as its kind begins: one that is there already is left alone
};

/// "vignette", "grain", "toneColours", "negative", "signature", and frames: "border",
/// "passePartout", "blackEdge", "thinLine", "corners".
std::span<const FinishStart> finishStarts();

/// With that start's line. There is at most one of a kind: where there is one it is changed, or,
/// where the start is its kind's, left as it is.
/// @param lineId receives the line's id
/// Errors: NotFound: there is no such start.
Result<Take> withFinishStart(Take take, std::string_view start, uint64_t *lineId = nullptr);

/// The take signed with those words; where it is signed already, they take the place of what was
/// there.
Take withSignature(Take take, SignatureWords words, uint64_t *lineId = nullptr);

} // namespace buttonhole
