#include "prepare.h"

#include "export/export.h"
#include "io/file.h"
#include "job/folder.h"
#include "job/opened.h"
#include "lens/lens_library.h"
#include "subject/level_angle.h"

#include <cstdio>
#include <filesystem>

namespace buttonhole::cli
{

namespace
{

namespace fs = std::filesystem;

Result<Take> withLens(Take take, const PhotoLevels &levels, const std::string &name,
                      std::vector<std::string> &notes)
{
    const Photo &photo = levels.photo();
    const TakenWith with = photo.metadata.takenWith();
    const LensLibrary &all = LensLibrary::system();
    const bool isAuto = name == "auto";
    auto profile = isAuto ? all.profileFor(with, photo.width, photo.height)
                          : all.profileNamed(name, with, photo.width, photo.height);
    if (!profile && !isAuto)
        return profile.error();
    if (!profile) {
        notes.push_back(photo.path + ": " + profile.error().subject + ": " +
                        profile.error().detail);
        return take;
    }
    notes.push_back(photo.path + ": lens " + profile->name);
    return withPrepared(std::move(take), std::make_shared<const Lens>(*profile));
}

/// Photos that are named, and those of folders that are, in the order of their names.
std::vector<std::string> photosOf(const std::vector<std::string> &named)
{
    std::vector<std::string> out;
    for (const std::string &each : named) {
        const auto inside = photosIn(each);
        if (!inside) // it is no folder, or says what is wrong when it is opened
            out.push_back(each);
        else
            out.insert(out.end(), inside->begin(), inside->end());
    }
    return out;
}

Result<void> prepareOne(const std::string &photo, const std::string &out,
                        const FindingArguments &find, const OutputOptions &options)
{
    const auto opened = openPath(photo, {}, makeRun("Reading", options), needsAllLevels);
    if (!opened)
        return opened.error();
    if (auto fine = checkOutputs({out}, opened->inputs); !fine)
        return fine;
    const PhotoLevels &levels = *opened->levels;
    Take take = *opened->work.takes[opened->work.current];
    take.greyOn = false;
    take.keeps.clear();
    std::vector<std::string> notes = opened->notes;
    auto made = withFindings(std::move(take), levels, find, notes, makeRun("Looking", options));
    if (!made)
        return made.error();
    ExportSettings settings;
    const auto format = formatFromPath(out);
    if (!format)
        return format.error();
    settings.format = *format;
    const auto done = exportPicture(levels, *made, settings, out, makeRun("Writing", options));
    endProgress(options);
    printNotes(notes, options);
    return done ? Result<void>() : done.error();
}

} // namespace

Result<Take> withFindings(Take take, const PhotoLevels &levels, const FindingArguments &arguments,
                          std::vector<std::string> &notes, const Run &run)
{
    const Photo &photo = levels.photo();
    if (!arguments.lens.empty()) {
        auto made = withLens(std::move(take), levels, arguments.lens, notes);
        if (!made)
            return made.error();
        take = std::move(*made);
    }
    if (arguments.straightens) {
        if (const auto angle = findLevelAngle(levels, distortionOf(take)))
            take.geometry.straightening.angleDeg = *angle;
        else
            notes.push_back(photo.path + ": no straight edges agree on what is level");
    }
    if (arguments.spots) {
        auto made = withFoundSpots(std::move(take), levels, run);
        if (!made)
            return made.error();
        take = std::move(*made);
    }
    if (arguments.light)
        take = withAutoLight(std::move(take), levels);
    return withFilledCrop(std::move(take), photo.width, photo.height);
}

int prepare(const PrepareArguments &arguments, const OutputOptions &options)
{
    const std::vector<std::string> photos = photosOf(arguments.photos);
    std::error_code problem;
    const bool isFile = photos.size() == 1 && formatFromPath(arguments.out) &&
                        !fs::is_directory(arguments.out, problem);
    problem.clear(); // what is not there is no problem yet
    if (!isFile)
        fs::create_directories(arguments.out, problem);
    if (problem)
        return fail({ErrorKind::Io, arguments.out, problem.message()}, options);
    int code = Ok;
    size_t written = 0;
    for (const std::string &photo : photos) {
        const std::string out =
            isFile ? arguments.out
                   : (fs::path(arguments.out) / fs::path(photo).stem()).string() + ".jpg";
        const auto done = prepareOne(photo, out, arguments.find, options);
        written += done ? size_t(1) : size_t(0);
        if (done)
            continue;
        const int failed = fail(done.error(), options);
        code = code == Ok ? failed : code;
        if (done.error().kind == ErrorKind::Cancelled)
            break;
    }
    if (!isFile && !options.quiet)
        std::fprintf(stderr, "%zu of %zu photos written to %s\n", written, photos.size(),
                     arguments.out.c_str());
    return code;
}

} // namespace buttonhole::cli
