#include "job/batch.h"

#include "document/container.h"
#include "io/file.h"
#include "job/batch_manifest.h"
#include "job/folder.h"
#include "job/photo_job.h"

#include <sys/statvfs.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <filesystem>
#include <set>
#include <thread>

namespace buttonhole
{

namespace
{

namespace fs = std::filesystem;
using State = BatchResult::State;

/// The takes of a work that are to leave; an empty name is the current one's.
Result<std::vector<std::string>> takesOf(const std::string &input, bool all)
{
    if (!all || !isContainerPath(input))
        return std::vector<std::string>{{}};
    const auto container = loadContainer(input);
    if (!container)
        return container.error();
    std::vector<std::string> out;
    for (const auto &take : container->work.takes)
        out.push_back(take->name);
    return out;
}

std::string takenOnFile(const std::string &input)
{
    return isContainerPath(input) ? std::string() : takenOn(Metadata::fromFile(input));
}

/// Names for all tasks, none twice.
void chooseNames(const BatchOrder &order, std::vector<BatchResult> &all)
{
    std::set<std::string> given;
    const bool asksTaken = order.delivery.name.find("{taken}") != std::string::npos;
    NameFacts facts;
    facts.date = today();
    facts.count = int(all.size());
    for (size_t i = 0; i < all.size(); ++i) {
        BatchTask &task = all[i].task;
        if (all[i].state == State::Failed)
            continue;
        facts.name = fs::path(task.input).stem().string();
        facts.take = task.take;
        facts.taken = asksTaken ? takenOnFile(task.input) : std::string();
        facts.number = int(i) + 1;
        const std::string wanted = deliveredPath(order.delivery, task.input, facts);
        const auto isThere = [&](const std::string &path) { return fs::exists(path); };
        const bool mayNumber = order.delivery.ifThere == Delivery::IfThere::Number;
        task.out = numberedPath(wanted, [&](const std::string &path) {
            return given.contains(path) || (mayNumber && isThere(path));
        });
        given.insert(task.out);
        if (order.delivery.ifThere == Delivery::IfThere::Skip && isThere(task.out))
            all[i].state = State::Skipped;
    }
}

/// What a picture may come to, bytes: generously.
uint64_t roomFor(const std::string &input, const ExportSettings &settings)
{
    const auto bytes = fileSize(input);
    if (!bytes)
        return 0;
    return factsOf(settings.format).isLossy ? *bytes : *bytes * uint64_t(settings.bits / 2);
}

Result<void> checkRoom(const BatchOrder &order, const std::vector<BatchResult> &all)
{
    uint64_t needed = 0;
    for (const BatchResult &each : all)
        if (each.state == State::Waiting)
            needed += roomFor(each.task.input, order.delivery.picture);
    struct statvfs disk {
    };
    const std::string &folder = order.delivery.folder;
    if (order.delivery.where != Delivery::Where::Folder || ::statvfs(folder.c_str(), &disk) != 0)
        return {};
    const uint64_t free = uint64_t(disk.f_bavail) * uint64_t(disk.f_frsize);
    constexpr uint64_t kGenerous = 4; // a guess is not to stop what would fit
    if (free >= needed / kGenerous)
        return {};
    const auto megabytes = [](uint64_t bytes) { return std::to_string(bytes / 1000000) + " MB"; };
    return Error{ErrorKind::DiskFull, folder,
                 "about " + megabytes(needed) + " are needed, " + megabytes(free) + " are free"};
}

/// Workers take tasks one after the other.
class Runner
{
public:
    Runner(const BatchOrder &order, std::vector<BatchResult> &results, BatchManifest *manifest,
           const BatchFollower &follower, const Run &run)
        : m_order(order), m_results(results), m_manifest(manifest), m_follower(follower), m_run(run)
    {
    }

    void runAll()
    {
        const int workers = std::clamp(m_order.workers, 1, 64);
        std::vector<std::thread> others;
        for (int i = 1; i < workers; ++i)
            others.emplace_back([this] { work(); });
        work();
        for (std::thread &each : others)
            each.join();
    }
    /// Of the manifest: what it could not note is made again by a run that resumes.
    const Result<void> &problem() const { return m_problem; }

private:
    void work()
    {
        for (size_t i = m_next++; i < m_results.size(); i = m_next++) {
            if (m_follower.pause)
                m_follower.pause();
            if (m_run.stopped())
                return;
            if (m_results[i].state == State::Waiting)
                deliverOne(i);
        }
    }

    void deliverOne(size_t i)
    {
        BatchResult result = m_results[i];
        Run own;
        own.stop = m_run.stop;
        auto made = attempt(result.task, own);
        if (!made && made.error().kind == ErrorKind::Cancelled)
            return;
        result.state = made ? State::Done : State::Failed;
        if (made)
            result.delivered = std::move(*made);
        else
            result.error = made.error();
        const std::scoped_lock lock(m_mutex);
        if (m_manifest)
            if (auto noted = m_manifest->note(result); !noted && m_problem)
                m_problem = noted;
        m_results[i] = result;
        if (m_follower.finished)
            m_follower.finished(i, result);
        if (m_run.progress)
            m_run.report(float(++m_done) / float(m_results.size()));
    }

    Result<Delivered> attempt(const BatchTask &task, const Run &run) const
    {
        try {
            std::error_code problem;
            fs::create_directories(fs::path(task.out).parent_path(), problem);
            if (problem)
                return Error{ErrorKind::NoPermission, task.out, problem.message()};
            return deliverFile(task.input, task.take, m_order.presets, m_order.placesAll,
                               m_order.delivery, task.out, run);
        } catch (...) { // memory may run out, or a library throw: the others go on
            return caughtError(task.input);
        }
    }

    const BatchOrder &m_order;
    std::vector<BatchResult> &m_results;
    BatchManifest *m_manifest;
    const BatchFollower &m_follower;
    Run m_run;
    std::atomic<size_t> m_next = 0;
    std::mutex m_mutex; ///< guards results, manifest and follower
    size_t m_done = 0;
    Result<void> m_problem; ///< of the manifest
};

} // namespace

size_t BatchReport::count(BatchResult::State state) const
{
    return size_t(std::count_if(results.begin(), results.end(),
                                [&](const BatchResult &each) { return each.state == state; }));
}

std::vector<BatchResult> planBatch(const BatchOrder &order)
{
    std::vector<BatchResult> out;
    const auto fail = [&](const std::string &input, const Error &error) {
        out.push_back({{input, {}, {}}, State::Failed, {}, error});
    };
    const auto add = [&](const std::string &input) {
        const auto takes = takesOf(input, order.allTakes);
        if (!takes)
            return fail(input, takes.error());
        for (const std::string &take : *takes)
            out.push_back({{input, take, {}}, State::Waiting, {}, {}});
    };
    for (const std::string &input : order.inputs) {
        std::error_code problem;
        const bool isFolder = fs::is_directory(input, problem);
        if (!isFolder && !isJobPath(input)) {
            add(input);
            continue;
        }
        const auto inside = isFolder ? jobOfFolder(input) : jobOf({input});
        if (!inside)
            fail(input, inside.error());
        else
            for (const JobPhoto &photo : inside->photos)
                add(toOpen(photo.path));
    }
    chooseNames(order, out);
    return out;
}

Result<BatchReport> runBatch(const BatchOrder &order, const BatchFollower &follower, const Run &run)
{
    const auto begun = std::chrono::steady_clock::now();
    BatchReport report;
    std::optional<BatchManifest> manifest;
    if (order.delivery.where == Delivery::Where::Folder) {
        std::error_code problem;
        fs::create_directories(order.delivery.folder, problem);
        if (problem)
            return Error{ErrorKind::NoPermission, order.delivery.folder, problem.message()};
        auto opened = BatchManifest::open(order);
        if (!opened)
            return opened.error();
        report.results = opened->results();
        report.notes = opened->notes();
        manifest = std::move(*opened);
    } else {
        report.results = planBatch(order);
    }
    if (auto fine = checkRoom(order, report.results); !fine)
        return fine.error();
    Runner runner(order, report.results, manifest ? &*manifest : nullptr, follower, run);
    runner.runAll();
    if (!runner.problem())
        report.notes.push_back(sentence(runner.problem().error()));
    report.seconds =
        std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    return report;
}

} // namespace buttonhole
