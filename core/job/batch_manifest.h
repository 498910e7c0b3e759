#pragma once

#include "job/batch.h"

#include <optional>

namespace buttonhole
{

/// What a batch planned and what of it is done, as lines of JSON in the folder that it writes to
/// (docs/format.md). A line is added and brought to the disk after each photo; one that was cut off
/// counts for nothing.
class BatchManifest
{
public:
    /// Begins one, or, where the order resumes, reads what there is and adds inputs that are new.
    static Result<BatchManifest> open(const BatchOrder &order);
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
    Result<void> read(const BatchOrder &order, const std::string &digest);
    Result<void> begin(const std::string &digest);

    std::string m_path;
    int m_descriptor = -1;
    std::vector<BatchResult> m_results;
    std::vector<std::string> m_notes;
};

} // namespace buttonhole
