#pragma once

#include "job/batch.h"

#include <nlohmann/json_fwd.hpp>

namespace buttonhole
{

/// What a batch planned and what of it is done, as lines of JSON in the folder that it writes to
/// (docs/format.md). A line is added and brought to the disk after each photo; one that was cut off
/// counts for nothing.
class BatchManifest
{
public:
    /// Plans, or, where the order resumes, reads what there is and adds inputs that are new. Only
    /// bare names in the order's own folder are taken from a file. Errors: BadValue,
    /// InvalidArgument (it is of another order; it is a link, or no manifest).
    static Result<BatchManifest> open(const BatchOrder &order);
    /// Writes the plan; note() goes on from there. Errors: those of writing, and of the guard.
    Result<void> begin(const OutputGuard &guard);
    BatchManifest(BatchManifest &&other) noexcept;
    BatchManifest &operator=(BatchManifest &&other) noexcept;
    ~BatchManifest();

    /// As planned; what is done already is `Before`.
    const std::vector<BatchResult> &results() const { return m_results; }
    const std::vector<std::string> &notes() const { return m_notes; }
    /// Errors: those of writing.
    Result<void> note(const BatchResult &result);

private:
    BatchManifest() = default;
    Result<void> read(const BatchOrder &order);
    void takeOver(const std::vector<nlohmann::json> &lines, const BatchOrder &order);

    std::string m_path;
    std::string m_digest;
    int m_descriptor = -1;
    std::vector<BatchResult> m_results;
    std::vector<std::string> m_notes;
};

} // namespace buttonhole
