#include "batch.h"

#include "changes.h"

#include <cstdio>
#include <thread>

namespace buttonhole::cli
{

namespace
{

Result<BatchOrder> orderOf(const BatchArguments &arguments, const OutputOptions &options)
{
    BatchOrder out;
    out.inputs = arguments.inputs;
    out.placesAll = arguments.placesAll;
    out.allTakes = arguments.allTakes;
    out.resumes = arguments.resumes;
    out.alsoRead = arguments.presets; // names that are no files do no harm
    out.alsoRead.push_back(arguments.exportPreset);
    // A decoder works on one processor, so a second photo fills the others.
    out.workers = arguments.workers > 0 ? arguments.workers : 2;
    for (const std::string &name : arguments.presets) {
        auto preset = presetNamed(name, options);
        if (!preset)
            return preset.error();
        out.presets.push_back(std::move(*preset));
    }
    if (!arguments.exportPreset.empty()) {
        const auto preset = presetNamed(arguments.exportPreset, options);
        if (!preset)
            return preset.error();
        if (preset->exportJson.empty())
            return Error{ErrorKind::InvalidArgument, arguments.exportPreset,
                         "it does not say how pictures are exported"};
        auto delivery = deliveryFromJson(preset->exportJson, arguments.exportPreset);
        if (!delivery)
            return delivery.error();
        out.delivery = std::move(*delivery);
    }
    for (const auto &change : arguments.changes)
        change(out.delivery);
    out.delivery.where = Delivery::Where::Folder;
    out.delivery.folder = arguments.out;
    return out;
}

} // namespace

int batch(const BatchArguments &arguments, const OutputOptions &options)
{
    auto order = orderOf(arguments, options);
    if (!order)
        return fail(order.error(), options);
    BatchFollower follower;
    follower.finished = [&](size_t, const BatchResult &result) {
        if (result.state == BatchResult::State::Failed && !options.json && !options.quiet) {
            endProgress(options);
            std::fprintf(stderr, "buttonhole-cli: %s\n", sentence(result.error).c_str());
        }
    };
    const Run run = makeRun("Delivering", options);
    const auto report = runBatch(*order, follower, run);
    if (!report)
        return fail(report.error(), options);
    endProgress(options);
    printNotes(report->notes, options);
    if (const int code = print(report->toJson(), options))
        return code;
    if (run.stopped())
        return Failed;
    int code = Ok;
    for (const BatchResult &each : report->results)
        if (each.state == BatchResult::State::Failed && code == Ok) {
            const bool isFull = each.error.kind == ErrorKind::DiskFull;
            code = isFull ? CannotWrite : BadInput;
        }
    return code;
}

} // namespace buttonhole::cli
