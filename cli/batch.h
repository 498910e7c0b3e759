#pragma once

#include "job/batch.h"
#include "output.h"

namespace buttonhole::cli
{

struct BatchArguments {
    std::vector<std::string> inputs;  ///< photos, works, folders of them
    std::vector<std::string> presets; ///< names, or files
    std::string exportPreset;         ///< the same; what is given beside it is set on top
    std::string out;
    bool placesAll = false;
    bool allTakes = false;
    bool resumes = false;
    int workers = 0; ///< 0: as many as pay here
    /// What the command line says of the delivery, applied onto the preset's.
    std::vector<std::function<void(Delivery &)>> changes;
};

/// Delivers many photos; prints a report as JSON.
int batch(const BatchArguments &arguments, const OutputOptions &options);

} // namespace buttonhole::cli
