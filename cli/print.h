#pragma once

#include "job/print.h"
#include "output.h"

namespace buttonhole::cli
{

struct PrintArguments {
    std::vector<std::string> inputs; ///< photos or works
    std::string take;                ///< of works
    std::string paper = "A4";
    std::vector<double> size; ///< mm, instead of a paper's name
    std::vector<int> grid;    ///< columns, rows
    bool isLying = false;
    PrintPage page;
    std::string out;
};

/// Lays pictures on pages of a PDF.
int printPages(const PrintArguments &arguments, const OutputOptions &options);

} // namespace buttonhole::cli
