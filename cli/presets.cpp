#include "presets.h"

#include "document/preset_store.h"
#include "io/file.h"

#include <nlohmann/json.hpp>

namespace buttonhole::cli
{

namespace
{

using nlohmann::json;

Result<std::vector<std::string>> groupsFor(const Take &take, const std::vector<std::string> &asked)
{
    std::vector<std::string> out;
    std::string known;
    for (const TakeGroup &each : takeGroups()) {
        known += (known.empty() ? "" : ", ") + std::string(each.id);
        if (asked.empty() && each.isSet(take))
            out.emplace_back(each.id);
    }
    for (const std::string &each : asked) {
        if (!isTakeGroup(each))
            return Error{ErrorKind::NotFound, "group \"" + each + "\"",
                         "there are: " + known + ", tone:NAME"};
        out.push_back(each);
    }
    return out;
}

Result<void> writePreset(const Preset &preset, const PresetArguments &arguments)
{
    if (arguments.out.empty()) {
        const auto saved = PresetStore::system().save(preset, arguments.folder);
        return saved ? Result<void>() : saved.error();
    }
    const std::string text = presetToText(preset);
    return writeBytesAtomically(arguments.out, text.data(), text.size());
}

} // namespace

int presets(const OutputOptions &options)
{
    const PresetStore store = PresetStore::system();
    json all = json::array();
    for (const StoredPreset &each : store.list()) {
        all.push_back({{"name", each.preset.name},
                       {"folder", each.folder},
                       {"file", each.path},
                       {"shipped", each.isShipped},
                       {"groups", each.preset.groups}});
        if (!each.problem.empty())
            all.back()["problem"] = each.problem;
    }
    json groups = json::array();
    for (const TakeGroup &each : takeGroups())
        groups.push_back(each.id);
    const json out{{"folder", store.folder()}, {"groups", groups}, {"presets", all}};
    return print(out.dump(2, ' ', false, json::error_handler_t::replace), options);
}

int preset(const PresetArguments &arguments, const OutputOptions &options)
{
    const auto made = openChanged(arguments.file, arguments.photo, arguments.take, arguments.change,
                                  {arguments.out}, true, options);
    if (!made)
        return fail(made.error(), options);
    auto groups = groupsFor(made->take, arguments.groups);
    if (!groups)
        return fail(groups.error(), options);
    const auto done = writePreset(
        presetOf(made->take, std::move(*groups), arguments.name, *made->opened.levels), arguments);
    if (!done)
        return fail(done.error(), options);
    endProgress(options);
    printNotes(made->opened.notes, options);
    return Ok;
}

} // namespace buttonhole::cli
