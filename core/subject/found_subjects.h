#pragma once

#include "base/run.h"
#include "io/photo_levels.h"
#include "raster/edge_trace.h"

#include <string>
#include <vector>

namespace buttonhole
{

enum class SubjectGroup { Main, People, Animals, Vehicles, Things, Faces, Eyes };

/// Something found in a photo that can be kept in one move.
struct FoundSubject {
    SubjectGroup group = SubjectGroup::Main;
    std::string word;        ///< what it is, e.g. "dog"
    float certainty = 0;     ///< 0..1; 0 where there is no measure of it
    Rect box;                ///< loosely round it, px of the photo
    std::vector<Rect> ovals; ///< faces and eyes: their rough shapes
};

/// Looks a photo over: the main subject first, and where it is several things each of them, then
/// everyday things by the detector's 80 classes from a certainty of 0.40 on, the surest first, then
/// faces and eyes. Errors: NotFound, Damaged (models); Cancelled.
Result<std::vector<FoundSubject>> findSubjects(const PhotoLevels &levels, const Run &run = {});
/// The first of them alone: what stands out. Errors: Cancelled.
Result<std::vector<FoundSubject>> findMainSubjects(const PhotoLevels &levels, const Run &run = {});
/// And all the others. Errors as above.
Result<std::vector<FoundSubject>> findOtherSubjects(const PhotoLevels &levels, const Run &run = {});

/// What would be kept of it, as closed lines in px of the photo, right to a few of them; empty
/// where nothing would be. Errors: Cancelled.
Result<std::vector<EdgeLine>> outlineOf(const PhotoLevels &levels, const FoundSubject &found,
                                        const Run &run = {});

/// "people", "animals"...
std::string groupWord(SubjectGroup group);

} // namespace buttonhole
