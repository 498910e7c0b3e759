#include "job/batch_manifest.h"

#include "document/json_text.h"
#include "io/file.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <filesystem>
#include <map>
#include <utility>

namespace buttonhole
{

namespace
{

using nlohmann::json;
namespace fs = std::filesystem;
using State = BatchResult::State;

constexpr const char *kManifestFormat = "buttonhole-batch";

/// File names need not be UTF-8: JSON has their bytes as they are where they can be text.
std::string textOf(const json &in)
{
    return in.dump(-1, ' ', false, json::error_handler_t::replace);
}

/// Of all that decides what a photo's file will be.
std::string digestOf(const BatchOrder &order)
{
    Sha256 sum;
    const auto add = [&](const std::string &text) { sum.add(text.data(), text.size()); };
    for (const Preset &each : order.presets)
        add(presetToText(each));
    add(deliveryToJson(order.delivery));
    add(order.placesAll ? "places all" : "");
    add(order.allTakes ? "all takes" : "");
    return sum.hex();
}

json planOf(const std::vector<BatchResult> &results)
{
    json out = json::array();
    for (const BatchResult &each : results)
        if (each.state != State::Failed)
            out.push_back({{"input", each.task.input},
                           {"take", each.task.take},
                           {"out", each.task.out},
                           {"skip", each.state == State::Skipped}});
    return out;
}

/// It was written, and is as it was then.
bool isWhole(const json &line)
{
    const auto isAs = [](const std::string &path, uint64_t bytes) {
        const auto size = fileSize(path);
        return size && *size == bytes;
    };
    if (!isAs(line.at("out").get<std::string>(), line.at("bytes").get<uint64_t>()))
        return false;
    for (const json &mask : line.value("masks", json::array()))
        if (std::error_code problem; !fs::exists(mask.get<std::string>(), problem))
            return false;
    return true;
}

} // namespace

BatchManifest::BatchManifest(BatchManifest &&other) noexcept
    : m_path(std::move(other.m_path)), m_descriptor(std::exchange(other.m_descriptor, -1)),
      m_results(std::move(other.m_results)), m_notes(std::move(other.m_notes))
{
}

BatchManifest &BatchManifest::operator=(BatchManifest &&other) noexcept
{
    std::swap(m_path, other.m_path);
    std::swap(m_descriptor, other.m_descriptor);
    std::swap(m_results, other.m_results);
    std::swap(m_notes, other.m_notes);
    return *this;
}

BatchManifest::~BatchManifest()
{
    if (m_descriptor >= 0)
        ::close(m_descriptor);
}

Result<BatchManifest> BatchManifest::open(const BatchOrder &order)
{
    BatchManifest out;
    out.m_path = (fs::path(order.delivery.folder) / kManifestName).string();
    const std::string digest = digestOf(order);
    std::error_code problem;
    const bool isThere = fs::exists(out.m_path, problem);
    if (order.resumes && isThere) {
        if (auto done = out.read(order, digest); !done)
            return done.error();
        return out;
    }
    if (order.resumes)
        out.m_notes.emplace_back("There is nothing to resume: it begins anew.");
    out.m_results = planBatch(order);
    if (auto done = out.begin(digest); !done)
        return done.error();
    return out;
}

Result<void> BatchManifest::begin(const std::string &digest)
{
    const std::string first = textOf({{"format", kManifestFormat},
                                      {"version", 1},
                                      {"digest", digest},
                                      {"plan", planOf(m_results)}}) +
                              "\n";
    std::string all = first;
    for (const BatchResult &each : m_results)
        if (each.state == State::Before)
            all += textOf({{"input", each.task.input},
                           {"take", each.task.take},
                           {"state", "done"},
                           {"out", each.task.out},
                           {"bytes", each.delivered.bytes},
                           {"masks", each.delivered.masks}}) +
                   "\n";
    if (auto written = writeBytesAtomically(m_path, all.data(), all.size()); !written)
        return written;
    m_descriptor = ::open(m_path.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC);
    return m_descriptor >= 0 ? Result<void>() : systemError(m_path);
}

Result<void> BatchManifest::read(const BatchOrder &order, const std::string &digest)
{
    const auto bytes = readFile(m_path);
    if (!bytes)
        return bytes.error();
    const std::string text(bytes->begin(), bytes->end());
    std::vector<json> lines;
    for (size_t from = 0; from < text.size();) {
        const size_t end = text.find('\n', from);
        if (end == std::string::npos)
            break; // cut off while it was written
        json line = json::parse(text.substr(from, end - from), nullptr, false);
        if (!line.is_discarded())
            lines.push_back(std::move(line));
        from = end + 1;
    }
    try {
        if (lines.empty() || lines[0].value("format", "") != kManifestFormat)
            return Error{ErrorKind::BadValue, m_path, "it is no manifest of a batch"};
        if (lines[0].at("digest") != digest)
            return Error{ErrorKind::InvalidArgument, "--resume",
                         m_path + " is of a batch with other presets or settings"};
        using Key = std::pair<std::string, std::string>;
        const auto keyOf = [](const json &in) {
            return Key(in.at("input").get<std::string>(), in.value("take", ""));
        };
        std::map<Key, BatchResult> planned;
        for (const json &each : lines[0].at("plan")) {
            const auto key = keyOf(each);
            planned[key] = {{key.first, key.second, each.at("out").get<std::string>()},
                            each.value("skip", false) ? State::Skipped : State::Waiting,
                            {},
                            {}};
        }
        for (size_t i = 1; i < lines.size(); ++i) {
            const auto at = planned.find(keyOf(lines[i]));
            if (at == planned.end() || lines[i].value("state", "") != "done" || !isWhole(lines[i]))
                continue;
            at->second.state = State::Before;
            at->second.delivered.path = at->second.task.out;
            at->second.delivered.bytes = lines[i].at("bytes").get<uint64_t>();
            at->second.delivered.masks = lines[i].value("masks", std::vector<std::string>());
        }
        m_results = planBatch(order);
        for (BatchResult &each : m_results)
            if (const auto at = planned.find({each.task.input, each.task.take});
                at != planned.end() && each.state != State::Failed)
                each = at->second;
    } catch (const json::exception &problem) {
        return Error{ErrorKind::BadValue, m_path, inWords(problem)};
    }
    return begin(digest);
}

Result<void> BatchManifest::note(const BatchResult &result)
{
    json line{{"input", result.task.input}, {"take", result.task.take}};
    if (result.state == State::Done) {
        line["state"] = "done";
        line["out"] = result.delivered.path;
        line["bytes"] = result.delivered.bytes;
        line["masks"] = result.delivered.masks;
    } else {
        line["state"] = "failed";
        line["error"] = sentence(result.error);
    }
    const std::string text = textOf(line) + "\n";
    if (auto written = writeAll(m_descriptor, text.data(), text.size(), m_path); !written)
        return written;
    return ::fdatasync(m_descriptor) == 0 ? Result<void>() : systemError(m_path);
}

std::string BatchReport::toJson() const
{
    constexpr const char *kStates[] = {"done", "before", "skipped", "failed", "waiting"};
    json photos = json::array();
    json wanting = json::array();
    for (const BatchResult &each : results) {
        json one{{"input", each.task.input}, {"state", kStates[size_t(each.state)]}};
        if (!each.task.take.empty())
            one["take"] = each.task.take;
        if (each.state == State::Failed) {
            one["error"] = {{"kind", kindName(each.error.kind)}, {"message", sentence(each.error)}};
        } else {
            one["out"] = each.task.out;
            if (each.delivered.bytes > 0)
                one["bytes"] = each.delivered.bytes;
            if (each.delivered.width > 0) {
                one["width"] = each.delivered.width;
                one["height"] = each.delivered.height;
            }
            if (!each.delivered.masks.empty())
                one["masks"] = each.delivered.masks;
        }
        const CarryReport &carried = each.delivered.carried;
        for (const CarriedStep &step : carried.steps)
            one["steps"].push_back(
                {{"line", step.line}, {"kind", step.kind}, {"how", toWord(step.how)}});
        for (const CarriedLine &line : carried.lines)
            one["lines"].push_back({{"name", line.name}, {"sure", line.sure}});
        if (carried.wantsALook()) {
            one["wantsALook"] = true;
            wanting.push_back(each.task.input);
        }
        if (!each.delivered.notes.empty())
            one["notes"] = each.delivered.notes;
        photos.push_back(std::move(one));
    }
    const json out{{"done", count(State::Done)},
                   {"before", count(State::Before)},
                   {"skipped", count(State::Skipped)},
                   {"failed", count(State::Failed)},
                   {"waiting", count(State::Waiting)},
                   {"seconds", seconds},
                   {"wantALook", wanting},
                   {"notes", notes},
                   {"photos", photos}};
    return out.dump(1, ' ', false, json::error_handler_t::replace);
}

} // namespace buttonhole
