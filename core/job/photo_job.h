#pragma once

#include "document/preset.h"
#include "document/same_again.h"

#include <string>
#include <vector>

namespace buttonhole
{

/// A photo of a job, and how far it is.
struct JobPhoto {
    std::string path;         ///< of the photo, or of a work whose photo is elsewhere
    bool isDelivered = false; ///< since it was last changed
    bool wantsALook = false;  ///< its masks were found again and may be of something else
    friend bool operator==(const JobPhoto &, const JobPhoto &) = default;
};

/// A folder's worth of photos: plain data.
struct PhotoJob {
    static constexpr size_t kMost = 20000;
    std::vector<JobPhoto> photos;
    friend bool operator==(const PhotoJob &, const PhotoJob &) = default;
};

/// Of photos, works, saved jobs and folders of them (those that look like photos by their names, in
/// the order of their names); a work beside its photo is not a photo more. Errors: those of
/// readJob().
Result<PhotoJob> jobOf(const std::vector<std::string> &paths);
/// Errors: those of photosIn().
Result<PhotoJob> jobOfFolder(const std::string &folder);

/// A job saved as a file ends in ".buttonhole-job".
bool isJobPath(const std::string &path);
/// Photos below the file's folder are told by their way from there: both can be moved together.
/// Errors: those of writeAtomically().
Result<void> saveJob(const PhotoJob &job, const std::string &path);
/// Errors: those of readFile() and jobFromJson().
Result<PhotoJob> readJob(const std::string &path);

/// The name of a photo's work: beside it, with its ending changed; where that is the work of
/// another photo (a raw one and its JPEG have one name), behind the whole name.
std::string workBeside(const std::string &photo);
/// What is opened for a photo: its work where there is one.
std::string toOpen(const std::string &photo);

std::string jobToJson(const PhotoJob &job);
/// Errors: Damaged, BadValue, named by `subject`.
Result<PhotoJob> jobFromJson(const std::string &text, const std::string &subject);

/// Puts a preset on a photo's work, saved beside it: on the current take where the work is made for
/// that, on a copy of it where there was one, so that nothing is lost.
/// Errors: those of opening, of withPresetOn() and of saving (Conflict: a window has it).
Result<CarryReport> applyToFile(const std::string &photo, const Preset &preset, bool placesAll,
                                const Run &run = {});

} // namespace buttonhole
