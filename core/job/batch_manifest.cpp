#include "job/batch_manifest.h"

#include "document/json_text.h"
#include "io/file.h"
#include "io/picture_end.h"

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <filesystem>
#include <map>
#include <set>
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

json keyToJson(const BatchTask &task)
{
    json out;
    putPath(out, "input", task.input);
    putPath(out, "take", task.take);
    return out;
}

using Key = std::pair<std::string, std::string>;
Key keyFrom(const json &in)
{
    return {pathFrom(in, "input"), in.contains("take") ? pathFrom(in, "take") : std::string()};
}

json planOf(const std::vector<BatchResult> &results)
{
    json out = json::array();
    for (const BatchResult &each : results) {
        if (each.state == State::Failed)
            continue;
        json one = keyToJson(each.task);
        putPath(one, "out", each.task.out);
        one["skip"] = each.state == State::Skipped;
        out.push_back(std::move(one));
    }
    return out;
}

json doneToJson(const BatchResult &result)
{
    json out = keyToJson(result.task);
    out["state"] = "done";
    putPath(out, "out", result.delivered.path);
    out["bytes"] = result.delivered.bytes;
    out["masks"] = json::array();
    for (const std::string &mask : result.delivered.masks) {
        json one;
        putPath(one, "path", mask);
        out["masks"].push_back(std::move(one));
    }
    out["read"] = json::array();
    for (const auto &[path, stamp] : result.delivered.read) {
        json one{{"bytes", stamp.bytes}, {"changedNs", stamp.changedNs}};
        putPath(one, "path", path);
        out["read"].push_back(std::move(one));
    }
    return out;
}

/// The path of a bare name in the folder, whatever folder a file tells: it may have been moved, or
/// written by somebody else. Empty: it has no name.
std::string inFolder(const std::string &folder, const std::string &path)
{
    const std::string name = fs::path(path).filename().string();
    if (name.empty() || name == "." || name == ".." || name == kManifestName)
        return {};
    return (fs::path(folder) / name).string();
}

std::vector<std::string> masksFrom(const json &line, const std::string &folder)
{
    std::vector<std::string> out;
    for (const json &each : line.value("masks", json::array()))
        if (auto path = inFolder(folder, each.is_string() ? each.get<std::string>()
                                                          : pathFrom(each, "path"));
            !path.empty())
            out.push_back(std::move(path));
    return out;
}

/// They were written to their ends, and are as they were then.
bool areWhole(const Delivered &delivered)
{
    const auto size = fileSize(delivered.path);
    return size && *size == delivered.bytes && checkPictureEnd(delivered.path) &&
           std::all_of(delivered.masks.begin(), delivered.masks.end(),
                       [](const std::string &mask) { return bool(checkPictureEnd(mask)); });
}

/// What was read for it is as it was then. Photos that came out of a work are in the work.
bool isUnchanged(const json &line)
{
    for (const json &each : line.value("read", json::array())) {
        const FileStamp now = stampOf(pathFrom(each, "path"));
        if (now.exists() && (now.bytes != each.at("bytes").get<uint64_t>() ||
                             now.changedNs != each.at("changedNs").get<int64_t>()))
            return false;
    }
    return true;
}

/// Lines of JSON; one that was cut off while it was written counts for nothing.
std::vector<json> linesOf(const std::string &text)
{
    std::vector<json> lines;
    for (size_t from = 0; from < text.size();) {
        const size_t end = text.find('\n', from);
        if (end == std::string::npos)
            break;
        if (auto line = jsonFromText(std::string_view(text).substr(from, end - from), "manifest"))
            lines.push_back(std::move(*line));
        from = end + 1;
    }
    return lines;
}

/// All that an earlier run planned to write or wrote, as whole paths.
std::set<std::string> ownFilesOf(const std::vector<json> &lines, const std::string &folder)
{
    std::set<std::string> out;
    const auto add = [&](const std::string &path) {
        if (const std::string own = inFolder(folder, path); !own.empty())
            out.insert(fs::absolute(own).lexically_normal().string());
    };
    for (const json &line : lines) {
        for (const json &each : line.value("plan", json::array()))
            if (!each.value("skip", false))
                add(pathFrom(each, "out"));
        if (line.value("state", "") == "done")
            add(pathFrom(line, "out"));
        for (const std::string &mask : masksFrom(line, folder))
            add(mask);
    }
    return out;
}

} // namespace

BatchManifest::BatchManifest(BatchManifest &&other) noexcept
    : m_path(std::move(other.m_path)), m_digest(std::move(other.m_digest)),
      m_descriptor(std::exchange(other.m_descriptor, -1)), m_results(std::move(other.m_results)),
      m_notes(std::move(other.m_notes))
{
}

BatchManifest &BatchManifest::operator=(BatchManifest &&other) noexcept
{
    std::swap(m_path, other.m_path);
    std::swap(m_digest, other.m_digest);
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
    out.m_digest = digestOf(order);
    std::error_code problem;
    const auto there = fs::symlink_status(out.m_path, problem);
    if (fs::exists(there) && !fs::is_regular_file(there))
        return Error{ErrorKind::InvalidArgument, out.m_path,
                     "it is a link or a folder, where the list of what is done is to be"};
    if (order.resumes && !fs::exists(there))
        out.m_notes.emplace_back("There is nothing to resume: it begins anew.");
    if (!fs::exists(there)) {
        out.m_results = planBatch(order);
        return out;
    }
    if (auto done = out.read(order); !done)
        return done.error();
    return out;
}

Result<void> BatchManifest::begin(const OutputGuard &guard)
{
    if (auto fine = guard.check(m_path); !fine)
        return fine;
    const std::string first = textOf({{"format", kManifestFormat},
                                      {"version", 1},
                                      {"digest", m_digest},
                                      {"plan", planOf(m_results)}}) +
                              "\n";
    std::string all = first;
    for (const BatchResult &each : m_results)
        if (each.state == State::Before)
            all += textOf(doneToJson(each)) + "\n";
    if (auto written = writeBytesAtomically(m_path, all.data(), all.size()); !written)
        return written;
    m_descriptor = ::open(m_path.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC | O_NOFOLLOW);
    return m_descriptor >= 0 ? Result<void>() : systemError(m_path);
}

Result<void> BatchManifest::read(const BatchOrder &order)
{
    const auto bytes = readFile(m_path);
    if (!bytes && bytes.error().kind == ErrorKind::Damaged && !order.resumes) { // it is empty
        m_results = planBatch(order);
        return {};
    }
    if (!bytes)
        return bytes.error();
    try {
        const std::vector<json> lines = linesOf({bytes->begin(), bytes->end()});
        if (lines.empty() || !lines[0].is_object() ||
            lines[0].value("format", "") != kManifestFormat)
            return Error{ErrorKind::BadValue, m_path, "it is no manifest of a batch"};
        m_results = planBatch(order, ownFilesOf(lines, order.delivery.folder));
        if (!order.resumes)
            return {};
        if (lines[0].at("digest") != m_digest)
            return Error{ErrorKind::InvalidArgument, "--resume",
                         m_path + " is of a batch with other presets or settings"};
        takeOver(lines, order);
        return {};
    } catch (const json::exception &problem) {
        return Error{ErrorKind::BadValue, m_path, inWords(problem)};
    }
}

/// The names that were chosen, and what is done.
void BatchManifest::takeOver(const std::vector<json> &lines, const BatchOrder &order)
{
    const std::string &folder = order.delivery.folder;
    std::map<Key, BatchResult> planned;
    for (const json &each : lines[0].at("plan")) {
        const auto key = keyFrom(each);
        const std::string out = inFolder(folder, pathFrom(each, "out"));
        if (out.empty())
            continue;
        planned[key].task = {key.first, key.second, out};
        planned[key].state = each.value("skip", false) ? State::Skipped : State::Waiting;
    }
    for (size_t i = 1; i < lines.size(); ++i) {
        const auto at = planned.find(keyFrom(lines[i]));
        if (at == planned.end() || lines[i].value("state", "") != "done")
            continue;
        BatchResult &result = at->second;
        result.delivered.path = inFolder(folder, pathFrom(lines[i], "out"));
        result.delivered.bytes = lines[i].at("bytes").get<uint64_t>();
        result.delivered.masks = masksFrom(lines[i], folder);
        const auto size = fileSize(result.delivered.path);
        if (!size || *size != result.delivered.bytes)
            continue; // gone, or another file by now
        result.task.out = result.delivered.path;
        const bool stays = areWhole(result.delivered) && isUnchanged(lines[i]);
        result.task.replacesOwn = !stays;
        result.state = stays ? State::Before : State::Waiting;
        for (const json &each : lines[i].value("read", json::array()))
            result.delivered.read.push_back(
                {pathFrom(each, "path"),
                 {each.at("bytes").get<uint64_t>(), each.at("changedNs").get<int64_t>(), 0}});
    }
    std::set<std::string> given;
    for (const auto &[key, result] : planned)
        given.insert(result.task.out);
    for (BatchResult &each : m_results) {
        if (each.state == State::Failed)
            continue;
        const auto at = planned.find({each.task.input, each.task.take});
        if (at != planned.end())
            each = at->second;
        else // its name was chosen without knowing of those
            each.task.out = numberedPath(
                each.task.out, [&](const std::string &path) { return !given.insert(path).second; });
    }
}

Result<void> BatchManifest::note(const BatchResult &result)
{
    const bool isDone = result.state == State::Done;
    json line = isDone ? doneToJson(result) : keyToJson(result.task);
    if (result.state == State::Skipped)
        line["state"] = "skipped";
    if (result.state == State::Failed) {
        line["state"] = "failed";
        line["error"] = sentence(result.error);
    }
    const std::string text = textOf(line) + "\n";
    if (auto written = writeAll(m_descriptor, text.data(), text.size(), m_path); !written)
        return written;
    // What was not done is tried again in any case: only files must not be forgotten.
    return !isDone || ::fdatasync(m_descriptor) == 0 ? Result<void>() : systemError(m_path);
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
