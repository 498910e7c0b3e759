#pragma once

#include "base/result.h"
#include "io/metadata.h"
#include "light/lens.h"

#include <memory>
#include <string>
#include <vector>

struct lfDatabase;
struct lfLens;

namespace buttonhole
{

/// Measured lenses, by Lensfun and the profiles that come with it. Reading them takes a moment, so
/// that is done once, when first asked; any thread.
class LensLibrary
{
public:
    /// That of the system.
    static const LensLibrary &system();
    /// @param file in Lensfun's XML; empty: those of the system. What cannot be read is not there.
    explicit LensLibrary(const std::string &file);
    ~LensLibrary();
    LensLibrary(const LensLibrary &) = delete;
    LensLibrary &operator=(const LensLibrary &) = delete;

    /// The profile of the lens that a photo says it was taken with, as it was set.
    /// Errors: NotFound: what it says, and that it is not known, or that it says nothing.
    Result<LensProfile> profileFor(const TakenWith &with, int width, int height) const;
    /// Names of lenses that hold all words, the shortest first.
    std::vector<std::string> search(const std::string &text, size_t most) const;
    /// The profile of a lens by its name as search() has it; what the photo says of how it was set
    /// counts, where it says nothing its middle does. Errors: NotFound.
    Result<LensProfile> profileNamed(const std::string &name, const TakenWith &with, int width,
                                     int height) const;

private:
    LensProfile profileOf(const lfLens &lens, double crop, const TakenWith &with, int width,
                          int height) const;
    std::unique_ptr<lfDatabase> m_database;
};

} // namespace buttonhole
