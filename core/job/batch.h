#pragma once

#include "job/deliver.h"

#include <memory>
#include <set>

namespace buttonhole
{

/// Many photos, the same done to each.
struct BatchOrder {
    std::vector<std::string> inputs; ///< photos, works, and folders of them
    std::vector<Preset> presets;
    bool placesAll = false;                 ///< see PresetUse
    Delivery delivery;                      ///< its folder is where the manifest lies
    bool allTakes = false;                  ///< of works, not the current one alone
    int workers = 1;                        ///< photos at a time
    bool resumes = false;                   ///< goes on where the manifest ends
    std::vector<std::string> alsoRead = {}; ///< files that no picture may be written to
};

/// One photo, or take of a work.
struct BatchTask {
    std::string input;
    std::string take; ///< empty: the current one
    std::string out;
    /// What is there is this batch's own: of a photo that was changed since.
    bool replacesOwn = false;
};

struct BatchResult {
    enum class State {
        Done,
        Before,  ///< by the run that this one resumes
        Skipped, ///< its file was there
        Failed,
        Waiting ///< nothing was tried yet
    };
    BatchTask task;
    State state = State::Waiting;
    Delivered delivered;
    Error error;
};

struct BatchReport {
    std::vector<BatchResult> results; ///< in the order of the inputs
    std::vector<std::string> notes;
    double seconds = 0;

    size_t count(BatchResult::State state) const;
    std::string toJson() const; ///< docs/cli.md
};

/// Told on the threads of workers, one at a time.
struct BatchFollower {
    std::function<void(size_t index, const BatchResult &)> finished = {};
    /// Asked before each photo: what is left waits for another call.
    std::function<bool()> pauses = {};
};

class BatchManifest;

/// Many photos delivered one by one. One that fails does not stop the others; a photo's files are
/// whole or not there, and nothing is written to a file that is read. Folders that are written to
/// are locked for as long as it lives. A manifest in the delivery's folder notes each that is done,
/// so that a run that resumes it makes the rest, with the same names, whatever ended the first one.
class Batch
{
public:
    /// Chooses all names.
    /// Errors: DiskFull (there is far too little room); Conflict (another delivery writes to its
    /// folder); BadValue, InvalidArgument (the manifest cannot be read, or is of another order);
    /// those of writing it.
    static Result<Batch> begin(BatchOrder order);
    Batch(Batch &&other) noexcept;
    Batch &operator=(Batch &&other) noexcept;
    ~Batch();

    /// Delivers what is waiting, until all is done, or stopped or paused: then it may be called
    /// again. A pause holds no thread.
    void deliver(const BatchFollower &follower = {}, const Run &run = {});
    const BatchReport &report() const { return m_report; }

private:
    Batch();

    BatchOrder m_order;
    OutputGuard m_guard;
    std::vector<std::shared_ptr<const FolderLock>> m_locks;
    std::unique_ptr<BatchManifest> m_manifest; ///< null: the folders are many
    BatchReport m_report;
};

/// All of it at once.
Result<BatchReport> runBatch(const BatchOrder &order, const BatchFollower &follower = {},
                             const Run &run = {});

/// What a batch is to do, names chosen: photos of folders in the order of their names, a work in
/// the place of the photo of its name, none twice. What cannot be listed becomes a failed result.
/// @param own files that an earlier run wrote: a folder that is listed is listed without them
std::vector<BatchResult> planBatch(const BatchOrder &order, const std::set<std::string> &own = {});

inline constexpr const char *kManifestName = "buttonhole-batch.jsonl";

} // namespace buttonhole
