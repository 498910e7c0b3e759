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
#include <map>
#include <mutex>
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

/// Can a file of that name be there? Says no to one that a file system refuses as well.
bool isThere(const std::string &path)
{
    std::error_code problem;
    return fs::exists(fs::symlink_status(path, problem));
}

/// Names for all tasks, none twice.
void chooseNames(const BatchOrder &order, std::vector<BatchResult> &all)
{
    std::set<std::string> given;
    std::map<std::string, int> last; // number, of names that many want: not sought from 2 on again
    const bool asksTaken = order.delivery.name.find("{taken}") != std::string::npos;
    const bool mayNumber = order.delivery.ifThere == Delivery::IfThere::Number;
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
        task.out = numberedPath(
            wanted,
            [&](const std::string &path) {
                return given.contains(path) || (mayNumber && isThere(path));
            },
            &last[wanted]);
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
    Runner(const BatchOrder &order, const OutputGuard &guard, std::vector<BatchResult> &results,
           BatchManifest *manifest, const BatchFollower &follower, const Run &run)
        : m_order(order), m_guard(guard), m_results(results), m_manifest(manifest),
          m_follower(follower), m_run(run),
          m_done(size_t(std::count_if(results.begin(), results.end(), [](const BatchResult &each) {
              return each.state != State::Waiting;
          })))
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
            if (m_run.stopped() || (m_follower.pauses && m_follower.pauses()))
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
        const bool isSkipped = !made && made.error().kind == ErrorKind::Conflict &&
                               m_order.delivery.ifThere == Delivery::IfThere::Skip;
        result.state = made ? State::Done : isSkipped ? State::Skipped : State::Failed;
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

    Result<Delivered> attempt(BatchTask &task, const Run &run) const
    {
        try {
            std::error_code problem;
            fs::create_directories(fs::path(task.out).parent_path(), problem);
            if (problem)
                return Error{ErrorKind::NoPermission, task.out, problem.message()};
            return deliverTo(task, run);
        } catch (...) { // memory may run out, or a library throw: the others go on
            return caughtError(task.input);
        }
    }

    /// Where a file has come to lie at the name that was chosen, another name is.
    Result<Delivered> deliverTo(BatchTask &task, const Run &run) const
    {
        const bool replaces =
            task.replacesOwn || m_order.delivery.ifThere == Delivery::IfThere::Replace;
        const std::string wanted = task.out;
        for (int attempts = 0;; ++attempts) {
            constexpr int kMostAttempts = 3;
            auto made = deliverFile(
                task.input, task.take, m_order.presets, m_order.placesAll, m_order.delivery,
                {task.out, replaces ? Overwrite::Yes : Overwrite::No}, run, m_guard);
            if (made || made.error().kind != ErrorKind::Conflict ||
                m_order.delivery.ifThere != Delivery::IfThere::Number || attempts == kMostAttempts)
                return made;
            const std::scoped_lock lock(m_mutex); // of the others' names
            task.out = numberedPath(wanted, [&](const std::string &path) {
                return isThere(path) ||
                       std::any_of(m_results.begin(), m_results.end(),
                                   [&](const BatchResult &each) { return each.task.out == path; });
            });
        }
    }

    const BatchOrder &m_order;
    const OutputGuard &m_guard;
    std::vector<BatchResult> &m_results;
    BatchManifest *m_manifest;
    const BatchFollower &m_follower;
    Run m_run;
    std::atomic<size_t> m_next = 0;
    mutable std::mutex m_mutex; ///< guards results, manifest and follower
    size_t m_done;
    Result<void> m_problem; ///< of the manifest
};

/// All files that are read, as far as that is known before they are opened.
OutputGuard guardOf(const BatchOrder &order, const std::vector<BatchResult> &all)
{
    OutputGuard out;
    for (const std::string &each : order.alsoRead)
        out.protect(each);
    for (const std::string &each : order.inputs)
        out.protect(each);
    for (const BatchResult &each : all) {
        const std::string &input = each.task.input;
        out.protect(input);
        if (!isContainerPath(input))
            continue;
        if (const auto photo = loadPhotoReference(input))
            out.protect((fs::path(input).parent_path() / photo->relativePath).string());
    }
    return out;
}

/// Names in inputs' places are told at once; the others go on.
void refuseProtected(const OutputGuard &guard, std::vector<BatchResult> &all)
{
    for (BatchResult &each : all)
        if (each.state == State::Waiting)
            if (auto fine = guard.check(each.task.out); !fine) {
                each.state = State::Failed;
                each.error = fine.error();
            }
}

/// Of every folder that pictures go to. Errors: Conflict.
Result<std::vector<std::shared_ptr<const FolderLock>>>
lockFolders(const BatchOrder &order, const std::vector<BatchResult> &all)
{
    std::set<std::string> folders;
    if (order.delivery.where == Delivery::Where::Folder)
        folders.insert(order.delivery.folder);
    else
        for (const BatchResult &each : all)
            if (each.state == State::Waiting)
                folders.insert(fs::path(each.task.out).parent_path().string());
    std::vector<std::shared_ptr<const FolderLock>> out;
    for (const std::string &folder : folders) {
        std::error_code ignored; // what cannot be made is told with each of its pictures
        fs::create_directories(folder, ignored);
        auto lock = FolderLock::take(folder);
        if (!lock)
            return Error{ErrorKind::Conflict, folder, "another delivery is writing to it"};
        removeLeftovers(folder.empty() ? "." : folder);
        out.push_back(std::move(lock));
    }
    return out;
}

} // namespace

size_t BatchReport::count(BatchResult::State state) const
{
    return size_t(std::count_if(results.begin(), results.end(),
                                [&](const BatchResult &each) { return each.state == state; }));
}

std::vector<BatchResult> planBatch(const BatchOrder &order, const std::set<std::string> &own)
{
    std::vector<BatchResult> out;
    std::set<std::pair<std::string, std::string>> planned;
    const auto fail = [&](const std::string &input, const Error &error) {
        out.push_back({{input, {}, {}}, State::Failed, {}, error});
    };
    const auto add = [&](const std::string &input) {
        const auto takes = takesOf(input, order.allTakes);
        if (!takes)
            return fail(input, takes.error());
        for (const std::string &take : *takes)
            if (planned.emplace(input, take).second)
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
        if (!inside) {
            fail(input, inside.error());
            continue;
        }
        for (const JobPhoto &photo : inside->photos)
            if (!isFolder || !own.contains(fs::absolute(photo.path).lexically_normal().string()))
                add(toOpen(photo.path));
    }
    chooseNames(order, out);
    return out;
}

Batch::Batch() = default;
Batch::Batch(Batch &&other) noexcept = default;
Batch &Batch::operator=(Batch &&other) noexcept = default;
Batch::~Batch() = default;

Result<Batch> Batch::begin(BatchOrder order)
{
    Batch out;
    out.m_order = std::move(order);
    const Delivery &delivery = out.m_order.delivery;
    BatchReport &report = out.m_report;
    if (delivery.where == Delivery::Where::Folder) {
        std::error_code problem;
        fs::create_directories(delivery.folder, problem);
        if (problem)
            return Error{ErrorKind::NoPermission, delivery.folder, problem.message()};
        auto locks = lockFolders(out.m_order, {}); // before anything is read there
        if (!locks)
            return locks.error();
        out.m_locks = std::move(*locks);
        auto opened = BatchManifest::open(out.m_order);
        if (!opened)
            return opened.error();
        report.results = opened->results();
        report.notes = opened->notes();
        out.m_manifest = std::make_unique<BatchManifest>(std::move(*opened));
    } else {
        report.results = planBatch(out.m_order);
        auto locks = lockFolders(out.m_order, report.results);
        if (!locks)
            return locks.error();
        out.m_locks = std::move(*locks);
    }
    out.m_guard = guardOf(out.m_order, report.results);
    if (out.m_manifest)
        if (auto fine = out.m_manifest->begin(out.m_guard); !fine)
            return fine.error();
    refuseProtected(out.m_guard, report.results);
    if (auto fine = checkRoom(out.m_order, report.results); !fine)
        return fine.error();
    return out;
}

void Batch::deliver(const BatchFollower &follower, const Run &run)
{
    const auto begun = std::chrono::steady_clock::now();
    Runner runner(m_order, m_guard, m_report.results, m_manifest.get(), follower, run);
    runner.runAll();
    if (!runner.problem())
        m_report.notes.push_back(sentence(runner.problem().error()));
    m_report.seconds +=
        std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
}

Result<BatchReport> runBatch(const BatchOrder &order, const BatchFollower &follower, const Run &run)
{
    auto batch = Batch::begin(order);
    if (!batch)
        return batch.error();
    batch->deliver(follower, run);
    return batch->report();
}

} // namespace buttonhole
