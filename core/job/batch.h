#pragma once

#include "job/deliver.h"

#include <mutex>

namespace buttonhole
{

/// Many photos, the same done to each.
struct BatchOrder {
    std::vector<std::string> inputs; ///< photos, works, and folders of them
    std::vector<Preset> presets;
    bool placesAll = false; ///< see PresetUse
    Delivery delivery;      ///< its folder is where the manifest lies
    bool allTakes = false;  ///< of works, not the current one alone
    int workers = 1;        ///< photos at a time
    bool resumes = false;   ///< goes on where the manifest ends
};

/// One photo, or take of a work.
struct BatchTask {
    std::string input;
    std::string take; ///< empty: the current one
    std::string out;
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
    /// Waits here while the batch is paused.
    std::function<void()> pause = {};
};

/// What a batch is to do, names chosen: photos of folders in the order of their names, a work in
/// the place of the photo of its name. What cannot be listed becomes a failed result.
std::vector<BatchResult> planBatch(const BatchOrder &order);

/// Delivers photo by photo. One that fails does not stop the others; a photo's files are whole or
/// not there. A manifest in the delivery's folder notes each that is done, so that a run that
/// resumes it makes the rest, with the same names, whatever ended the first one.
/// Errors: DiskFull (there is far too little room, before anything is begun); BadValue,
/// InvalidArgument (the manifest cannot be read, or is of another order); those of writing it.
Result<BatchReport> runBatch(const BatchOrder &order, const BatchFollower &follower = {},
                             const Run &run = {});

inline constexpr const char *kManifestName = "buttonhole-batch.jsonl";

} // namespace buttonhole
