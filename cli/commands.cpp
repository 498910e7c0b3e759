#include "commands.h"

#include "document/grey_json.h"
#include "document/mask_import.h"
#include "document/take_json.h"
#include "export/mask_export.h"
#include "io/file.h"
#include "job/opened.h"
#include "mask/region_step.h"
#include "render/auto_grey.h"
#include "render/grey_statistics.h"
#include "subject/crop_ideas.h"
#include "subject/found_subjects.h"
#include "tone/looks.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cstdio>
#include <optional>

namespace buttonhole::cli
{

namespace
{

using nlohmann::json;

json factsOf(const StepShape &shape)
{
    json out = json::object();
    for (const auto &[id, value] : shape.facts())
        out[std::string(id)] = value;
    return out;
}

json keepsOf(const Take &take)
{
    json keeps = json::array();
    for (const Keep &keep : take.keeps) {
        json steps = json::array();
        for (const Step &step : keep.steps)
            steps.push_back({{"kind", step.shape->kind()},
                             {"sign", toWord(step.sign)},
                             {"on", step.on},
                             {"invert", step.invert},
                             {"facts", factsOf(*step.shape)},
                             {"understood", step.shape->isUnderstood()}});
        keeps.push_back({{"name", keep.name},
                         {"on", keep.on},
                         {"strength", keep.strength},
                         {"steps", std::move(steps)}});
    }
    return keeps;
}

json infoOf(const std::string &file, const Opened &opened)
{
    const Photo &photo = opened.photo();
    json takes = json::array();
    for (const auto &take : opened.work.takes) {
        const PictureRect picture = pictureOf(*take, photo.width, photo.height).rect();
        takes.push_back({{"name", take->name},
                         {"current", take == opened.work.takes[opened.work.current]},
                         {"width", picture.width()},
                         {"height", picture.height()},
                         {"keeps", keepsOf(*take)}});
    }
    json metadata = json::object();
    for (const auto &[name, value] : photo.metadata.summary())
        metadata[name] = value;
    metadata["hasLocation"] = photo.metadata.hasLocation();
    return {{"file", file},
            {"photo", photo.path},
            {"format", photo.format},
            {"bytes", photo.fileBytes},
            {"width", photo.width},
            {"height", photo.height},
            {"bitsPerChannel", photo.sourceBits},
            {"profile", {{"name", photo.profile.description()}, {"embedded", photo.hasOwnProfile}}},
            {"metadata", std::move(metadata)},
            {"takes", std::move(takes)},
            {"notes", opened.notes}};
}

/// Renders one take and writes it.
int exportOpened(const Opened &opened, const PhotoLevels &levels, const Take &take,
                 const ExportSettings &settings, const std::string &out,
                 const OutputOptions &options)
{
    const auto done = exportPicture(levels, take, settings, out, makeRun("Writing", options));
    if (!done)
        return fail(done.error(), options);
    endProgress(options);
    printNotes(opened.notes, options);
    return Ok;
}

/// The format that the file's name asks for.
Result<void> takeFormat(ExportSettings &settings, const std::string &out)
{
    const auto format = formatFromPath(out);
    if (!format)
        return format.error();
    settings.format = *format;
    return {};
}

/// Puts mask pictures into a take: each becomes a step of the keep of that name.
Result<Take> withMasks(Take take, const ApplyArguments &arguments, int width, int height)
{
    for (size_t i = 0; i + 1 < arguments.masksIn.size(); i += 2) {
        const auto keep = keepNamed(take, arguments.masksIn[i]);
        if (!keep)
            return keep.error();
        auto shape = loadMaskPicture(arguments.masksIn[i + 1], width, height);
        if (!shape)
            return shape.error();
        take = withNewStep(take, (*keep)->id, Sign::Add, std::move(*shape));
    }
    return take;
}

/// The other way round. Errors: those of exportMask(); NotFound.
Result<void> writeMasks(const PhotoLevels &levels, const Take &take,
                        const std::vector<std::string> &masksOut, const OutputOptions &options)
{
    for (size_t i = 0; i + 1 < masksOut.size(); i += 2) {
        const auto keep = keepNamed(take, masksOut[i]);
        if (!keep)
            return keep.error();
        auto done =
            exportMask(levels, **keep, 16, masksOut[i + 1], makeRun("Writing masks", options));
        if (!done)
            return done;
    }
    return {};
}

} // namespace

int info(const InfoArguments &arguments, const OutputOptions &options)
{
    const auto opened = openPath(arguments.file, arguments.photo, makeRun("Reading", options));
    if (!opened)
        return fail(opened.error(), options);
    endProgress(options);
    const std::string text =
        infoOf(arguments.file, *opened).dump(2, ' ', false, json::error_handler_t::replace);
    return print(text, options);
}

int render(const RenderArguments &arguments, const OutputOptions &options)
{
    ExportSettings settings = arguments.settings;
    if (const auto fine = takeFormat(settings, arguments.out); !fine)
        return fail(fine.error(), options);
    const auto made = openChanged(arguments.file, arguments.photo, arguments.take, arguments.change,
                                  {arguments.out}, false, options);
    if (!made)
        return fail(made.error(), options);
    return exportOpened(made->opened, *made->opened.levels, made->take, settings, arguments.out,
                        options);
}

int grey(const GreyInfoArguments &arguments, const OutputOptions &options)
{
    const auto made = openChanged(arguments.file, arguments.photo, arguments.take, arguments.change,
                                  {}, true, options);
    if (!made)
        return fail(made.error(), options);
    endProgress(options);
    const PhotoLevels &levels = *made->opened.levels;
    const GreyMix &mix = made->take.grey;
    const ColourPairs pairs = samplePairs(levels, nullptr);
    const ToneHistogram tones = measureTones(levels, made->take, false);
    const json out{
        {"grey", greyToJson(mix)},
        {"colourContrastRatio", colourContrastRatio(pairs, greyLightness(levels, pairs, mix))},
        {"clipped", {{"black", tones.clippedBlack}, {"white", tones.clippedWhite}}}};
    return print(out.dump(2), options);
}

int looks(const OutputOptions &options)
{
    json all = json::array();
    for (const Look &look : buttonhole::looks())
        all.push_back(
            {{"name", look.name}, {"character", look.character}, {"grey", greyToJson(look.mix)}});
    return print(all.dump(2), options);
}

/// The photo of a file with its levels, whatever takes there are.
Result<std::shared_ptr<const PhotoLevels>>
openLevels(const std::string &file, const std::string &photo, const OutputOptions &options)
{
    const auto opened = openPath(file, photo, makeRun("Reading", options), needsAllLevels);
    if (!opened)
        return opened.error();
    return opened->levels;
}

int subjects(const SubjectsArguments &arguments, const OutputOptions &options)
{
    const auto levels = openLevels(arguments.file, arguments.photo, options);
    if (!levels)
        return fail(levels.error(), options);
    const auto found = findSubjects(**levels, makeRun("Looking the photo over", options));
    if (!found)
        return fail(found.error(), options);
    json all = json::array();
    for (const FoundSubject &each : *found) {
        const RegionStep shape({{}, each.box, 0}, {}, SubjectNote{each.word, each.ovals, {}, {}});
        json step{{"kind", shape.kind()}, {"sign", toWord(Sign::Add)}};
        shape.toJson(step, nullptr, {});
        all.push_back({{"group", groupWord(each.group)},
                       {"word", each.word},
                       {"certainty", each.certainty},
                       {"step", std::move(step)}});
        if (!arguments.traces)
            continue;
        const auto lines = outlineOf(**levels, each, makeRun("Tracing " + each.word, options));
        if (!lines)
            return fail(lines.error(), options);
        json outlines = json::array();
        for (const EdgeLine &line : *lines) {
            json points = json::array();
            for (const EdgePoint &point : line.points)
                points.push_back({std::round(point.x), std::round(point.y)});
            outlines.push_back(std::move(points));
        }
        all.back()["outlines"] = std::move(outlines);
    }
    endProgress(options);
    return print(all.dump(2), options);
}

int crops(const CropsArguments &arguments, const OutputOptions &options)
{
    const auto levels = openLevels(arguments.file, arguments.photo, options);
    if (!levels)
        return fail(levels.error(), options);
    const auto subject = findWhatStandsOut(**levels, makeRun("Looking the photo over", options));
    if (!subject)
        return fail(subject.error(), options);
    json all = json::array();
    for (const Rect &crop : findCropIdeas(**levels, *subject, arguments.ratio))
        all.push_back(
            {{"x", crop.x0}, {"y", crop.y0}, {"width", crop.width()}, {"height", crop.height()}});
    endProgress(options);
    return print(all.dump(2), options);
}

int mask(const MaskArguments &arguments, const OutputOptions &options)
{
    if (endingOf(arguments.out) != ".png")
        return fail({ErrorKind::InvalidArgument, arguments.out, "its name must end in .png"},
                    options);
    const auto needs = [&](const Work &work, int, int) {
        const auto take = findTake(work, arguments.take);
        const auto keep = take ? keepNamed(**take, arguments.keep) : take.error();
        return keep && (*keep)->needsLevels();
    };
    const auto opened =
        openPath(arguments.file, arguments.photo, makeRun("Reading", options), needs);
    if (!opened)
        return fail(opened.error(), options);
    if (const auto fine = checkOutputs({arguments.out}, opened->inputs); !fine)
        return fail(fine.error(), options);
    const auto take = findTake(opened->work, arguments.take);
    if (!take)
        return fail(take.error(), options);
    const auto keep = keepNamed(**take, arguments.keep);
    if (!keep)
        return fail(keep.error(), options);
    const auto done = exportMask(*opened->levels, **keep, arguments.bits, arguments.out,
                                 makeRun("Writing", options));
    if (!done)
        return fail(done.error(), options);
    endProgress(options);
    printNotes(opened->notes, options);
    return Ok;
}

namespace
{

/// A take's text, which is read once its photo's size is known, and once only.
class TakeText
{
public:
    TakeText(std::string text, std::string file) : m_text(std::move(text)), m_file(std::move(file))
    {
    }
    const Result<Take> &take(int width, int height)
    {
        if (!m_take || m_size != std::pair(width, height)) {
            m_size = {width, height};
            m_notes.clear();
            m_take = takeFromText(m_text, width, height, m_file, m_notes);
        }
        return *m_take;
    }
    const std::vector<std::string> &notes() const { return m_notes; }

private:
    std::string m_text;
    std::string m_file;
    std::pair<int, int> m_size;
    std::optional<Result<Take>> m_take;
    std::vector<std::string> m_notes;
};

} // namespace

int apply(const ApplyArguments &arguments, const OutputOptions &options)
{
    if (arguments.out.empty() && arguments.save.empty() && arguments.masksOut.empty())
        return fail({ErrorKind::InvalidArgument, "apply", "give -o, --save or --mask-out"},
                    options);
    if (!arguments.save.empty() && !isContainerPath(arguments.save))
        return fail(
            {ErrorKind::InvalidArgument, arguments.save, "its name must end in .buttonhole"},
            options);
    ExportSettings settings = arguments.settings;
    if (!arguments.out.empty())
        if (const auto fine = takeFormat(settings, arguments.out); !fine)
            return fail(fine.error(), options);
    constexpr size_t kMostBytes = size_t(64) << 20;
    const auto text = readStream(arguments.take, kMostBytes);
    if (!text)
        return fail(text.error(), options);
    TakeText written({text->begin(), text->end()}, arguments.take);
    const auto needs = [&](const Work &, int width, int height) {
        const auto &take = written.take(width, height);
        return take && needsLevels(*take, arguments.change);
    };
    auto opened = openPath(arguments.photo, {}, makeRun("Reading", options), needs);
    if (!opened)
        return fail(opened.error(), options);
    std::vector<std::string> inputs = opened->inputs;
    inputs.push_back(arguments.take);
    for (size_t i = 1; i < arguments.masksIn.size(); i += 2)
        inputs.push_back(arguments.masksIn[i]);
    std::vector<std::string> outputs{arguments.out, arguments.save};
    for (size_t i = 1; i < arguments.masksOut.size(); i += 2) {
        if (endingOf(arguments.masksOut[i]) != ".png")
            return fail({ErrorKind::InvalidArgument, arguments.masksOut[i],
                         "a mask's name must end in .png"},
                        options);
        outputs.push_back(arguments.masksOut[i]);
    }
    if (const auto fine = checkOutputs(outputs, inputs); !fine)
        return fail(fine.error(), options);
    const auto [width, height] = std::pair(opened->photo().width, opened->photo().height);
    auto take = written.take(width, height);
    opened->notes.insert(opened->notes.end(), written.notes().begin(), written.notes().end());
    if (take)
        take = withMasks(std::move(*take), arguments, width, height);
    if (!take)
        return fail(take.error(), options);
    const PhotoLevels &levels = *opened->levels;
    take = withChanges(std::move(*take), arguments.change, levels, options);
    if (!take)
        return fail(take.error(), options);
    for (size_t i = 0; i < arguments.masksOut.size(); i += 2)
        if (const auto keep = keepNamed(*take, arguments.masksOut[i]); !keep)
            return fail(keep.error(), options);
    std::vector<std::string> notes;
    if (!arguments.save.empty())
        if (const auto saved =
                saveAs(arguments.save, *opened, *take, levels, notes, makeRun("Saving", options));
            !saved)
            return fail(saved.error(), options);
    printNotes(notes, options);
    if (const auto done = writeMasks(levels, *take, arguments.masksOut, options); !done)
        return fail(done.error(), options);
    if (arguments.out.empty()) {
        endProgress(options);
        printNotes(opened->notes, options);
        return Ok;
    }
    return exportOpened(*opened, levels, *take, settings, arguments.out, options);
}

} // namespace buttonhole::cli
