#pragma once

#include "document/take.h"

#include <span>

namespace buttonhole
{

/// A way in which a local tone begins: where it acts and what it is set to. All of it can be seen
/// and changed afterwards.
struct ToneStart {
    std::string_view id; ///< "outside"
    bool needsKeep;
    /// @param keep whose mask it goes by; null where it needs none
    std::vector<LocalTone> (*make)(const PhotoLevels &levels, const Keep *keep);
};

/// "empty": nothing yet; "everything"; "inside" and "outside" of a keep; "spotlight": a round fade
/// that fits the keep lifts it and settles the rest; "settle": what is outside of the keep darker
/// and flatter; "calm": a sky from the top border down held, darker and smoother; "bite": more
/// texture everywhere; "dodge" and "burn": a stop lighter or darker where it is painted.
std::span<const ToneStart> toneStarts();

/// With the tones of a start. @param last receives the id of the last of them
/// Errors: NotFound: there is no such start, or no keep for it.
Result<Take> withToneStart(Take take, const PhotoLevels &levels, std::string_view start,
                           const Keep *keep, uint64_t *last = nullptr);

} // namespace buttonhole
