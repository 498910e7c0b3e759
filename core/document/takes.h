#pragma once

#include "document/take.h"

namespace buttonhole
{

// Of all takes of a work: pure functions from a work to the next. Places beyond the ends change
// nothing. Takes share their masks: none of these copies a pixel.

/// With one more take behind all, worked on from now on; it gets a name that is free ("Take 3").
Work withNewTake(Work work, Take take);
/// A copy of the one that is worked on, behind it, worked on from now on.
Work withCopyOfTake(Work work);
/// Without one; the last one there is stays.
Work withoutTake(Work work, size_t index);
Work withTakeNamed(Work work, size_t index, const std::string &name);
Work withTakeAt(Work work, size_t from, size_t to);
/// The one that is worked on.
Work withCurrentTake(Work work, size_t index);

/// "Take n" with the first n that no take has.
std::string freeTakeName(const Work &work);

} // namespace buttonhole
