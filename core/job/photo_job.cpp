#include "job/photo_job.h"

#include "document/json_text.h"
#include "document/takes.h"
#include "export/small_picture.h"
#include "io/file.h"
#include "job/folder.h"
#include "job/opened.h"

#include <algorithm>
#include <filesystem>
#include <set>

namespace buttonhole
{

namespace
{

using nlohmann::json;
namespace fs = std::filesystem;

constexpr const char *kJobFormat = "buttonhole-job";
constexpr const char *kJobEnding = ".buttonhole-job";

std::string withWorkEnding(const fs::path &photo)
{
    return fs::path(photo).replace_extension(".buttonhole").string();
}

/// "IMG_1.nef.buttonhole": the work of a photo that shares its name with another one.
std::string workOfWholeName(const std::string &photo)
{
    return photo + ".buttonhole";
}

/// Is the work of that name the work of another photo, which lies beside this one?
bool isOfAnother(const std::string &work, const std::string &photo)
{
    const auto reference = loadPhotoReference(work);
    if (!reference)
        return false;
    const fs::path name = fs::path(reference->relativePath).filename();
    const fs::path other = fs::path(photo).parent_path() / name;
    std::error_code problem;
    return !name.empty() && name != fs::path(photo).filename() && withWorkEnding(other) == work &&
           fs::exists(other, problem);
}

} // namespace

std::string workBeside(const std::string &photo)
{
    if (isContainerPath(photo))
        return photo;
    std::error_code problem;
    const std::string whole = workOfWholeName(photo);
    if (fs::exists(whole, problem))
        return whole;
    const std::string work = withWorkEnding(photo);
    return fs::exists(work, problem) && isOfAnother(work, photo) ? whole : work;
}

std::string toOpen(const std::string &photo)
{
    const std::string work = workBeside(photo);
    std::error_code problem;
    return fs::exists(work, problem) ? work : photo;
}

Result<PhotoJob> jobOf(const std::vector<std::string> &paths)
{
    std::vector<JobPhoto> all;
    const auto add = [&](const std::string &path) { all.push_back({path, false, false}); };
    for (const std::string &path : paths) {
        std::error_code problem;
        if (isJobPath(path)) {
            const auto job = readJob(path);
            if (!job)
                return job.error();
            all.insert(all.end(), job->photos.begin(), job->photos.end());
        } else if (!fs::is_directory(path, problem)) {
            add(path);
        } else if (const auto inside = photosIn(path)) {
            std::for_each(inside->begin(), inside->end(), add);
        }
    }
    std::set<std::string> works; // of photos that are there themselves
    for (const JobPhoto &each : all)
        if (!isContainerPath(each.path))
            works.insert({withWorkEnding(each.path), workOfWholeName(each.path)});
    PhotoJob out;
    std::set<std::string> given;
    for (const JobPhoto &each : all)
        if (!(isContainerPath(each.path) && works.contains(each.path)) &&
            given.insert(each.path).second && out.photos.size() < PhotoJob::kMost)
            out.photos.push_back(each);
    return out;
}

Result<PhotoJob> jobOfFolder(const std::string &folder)
{
    const auto inside = photosIn(folder);
    return inside ? jobOf(*inside) : inside.error();
}

bool isJobPath(const std::string &path)
{
    return endingOf(path) == kJobEnding;
}

Result<void> saveJob(const PhotoJob &job, const std::string &path)
{
    const fs::path folder = fs::absolute(path).parent_path().lexically_normal();
    PhotoJob out = job;
    for (JobPhoto &each : out.photos) {
        const fs::path way = fs::path(each.path).lexically_normal().lexically_relative(folder);
        if (!way.empty() && *way.begin() != "..")
            each.path = way.string();
    }
    const std::string text = jobToJson(out);
    return writeBytesAtomically(path, text.data(), text.size());
}

Result<PhotoJob> readJob(const std::string &path)
{
    const auto text = readFile(path);
    if (!text)
        return text.error();
    auto out = jobFromJson({text->begin(), text->end()}, path);
    const fs::path folder = fs::absolute(path).parent_path();
    if (out)
        for (JobPhoto &each : out->photos)
            each.path = (folder / each.path).lexically_normal().string();
    return out;
}

std::string jobToJson(const PhotoJob &job)
{
    json photos = json::array();
    for (const JobPhoto &each : job.photos) {
        json one;
        putPath(one, "path", each.path);
        if (each.isDelivered)
            one["delivered"] = true;
        if (each.wantsALook)
            one["wantsALook"] = true;
        photos.push_back(std::move(one));
    }
    return json{{"format", kJobFormat}, {"version", 1}, {"photos", photos}}.dump(
        1, ' ', false, json::error_handler_t::replace);
}

Result<PhotoJob> jobFromJson(const std::string &text, const std::string &subject)
{
    const auto parsed = jsonFromText(text, subject);
    if (!parsed)
        return parsed.error();
    try {
        if (!parsed->is_object() || parsed->value("format", "") != kJobFormat)
            return Error{ErrorKind::BadValue, subject, "it is no job of Buttonhole's"};
        PhotoJob out;
        for (const json &each : parsed->value("photos", json::array()))
            if (out.photos.size() < PhotoJob::kMost)
                out.photos.push_back({pathFrom(each, "path"), each.value("delivered", false),
                                      each.value("wantsALook", false)});
        return out;
    } catch (const json::exception &problem) {
        return Error{ErrorKind::BadValue, subject, inWords(problem)};
    }
}

Result<CarryReport> applyToFile(const std::string &photo, const Preset &preset, bool placesAll,
                                const Run &run)
{
    auto opened = openPath(toOpen(photo), {}, run, needsAllLevels);
    if (!opened)
        return opened.error();
    const PhotoLevels &levels = *opened->levels;
    CarryReport report;
    Work work = opened->work;
    if (opened->container)
        work = withCopyOfTake(std::move(work));
    auto made = withPresetOn(work.take(), preset, levels, placesAll, report, run);
    if (!made)
        return made.error();
    made->name = work.take().name;
    const bool isNew = !opened->container;
    Container container = isNew ? Container() : std::move(*opened->container);
    container.work = work.with(std::move(*made));
    if (isNew)
        container.photo = referenceTo(opened->photo());
    if (auto preview = makePreviewJpeg(levels, container.work.take(), 1024))
        container.previewJpeg = std::move(*preview);
    SaveOptions saving;
    saving.photoStamp = opened->photo().stamp;
    if (auto saved = saveContainer(container, workBeside(photo), opened->photo().path, saving, run);
        !saved)
        return saved.error();
    return report;
}

} // namespace buttonhole
