#pragma once

#include "changes.h"
#include "export/export.h"

#include <string>
#include <vector>

namespace buttonhole::cli
{

struct InfoArguments {
    std::string file;
    std::string photo;
};
struct SubjectsArguments {
    std::string file;
    std::string photo;
    bool traces = false; ///< their outlines, too
};
struct CropsArguments {
    std::string file;
    std::string photo;
    double ratio = 0; ///< width to height; 0: any
};
struct RenderArguments {
    std::string file;
    std::string photo;
    std::string out;
    std::string take;
    ChangeArguments change;
    ExportSettings settings;
};
struct MaskArguments {
    std::string file;
    std::string photo;
    std::string keep;
    std::string take;
    std::string out;
    int bits = 16;
};
struct ApplyArguments {
    std::string photo;
    std::string take;
    std::string out;
    std::string save;
    std::vector<std::string> masksIn;  ///< NAME, PNG, NAME, PNG, ...
    std::vector<std::string> masksOut; ///< the same
    ChangeArguments change;
    ExportSettings settings;
};

struct GreyInfoArguments {
    std::string file;
    std::string photo;
    std::string take;
    ChangeArguments change;
};

// Each runs one command and gives its exit code.
int info(const InfoArguments &arguments, const OutputOptions &options);
int render(const RenderArguments &arguments, const OutputOptions &options);
int grey(const GreyInfoArguments &arguments, const OutputOptions &options);
int looks(const OutputOptions &options);
int subjects(const SubjectsArguments &arguments, const OutputOptions &options);
int crops(const CropsArguments &arguments, const OutputOptions &options);
int mask(const MaskArguments &arguments, const OutputOptions &options);
int apply(const ApplyArguments &arguments, const OutputOptions &options);

} // namespace buttonhole::cli
