#pragma once

#include "base/result.h"
#include "base/run.h"

#include <string>
#include <vector>

namespace buttonhole::cli
{

/// What the command line answers with; also in `buttonhole-cli --help` and docs/cli.md.
enum ExitCode { Ok = 0, Failed = 1, WrongUse = 2, NotFound = 3, BadInput = 4, CannotWrite = 5 };

struct OutputOptions {
    bool json = false;  ///< errors as one JSON object on stderr
    bool quiet = false; ///< no progress, no notes
};

/// Words an error on stderr and gives the exit code for it.
int fail(const Error &error, const OutputOptions &options);
void printNotes(const std::vector<std::string> &notes, const OutputOptions &options);

/// Prints to standard output. @return Ok, or what fail() gives where it cannot be written.
int print(const std::string &text, const OutputOptions &options);

/// Progress on stderr while it is a terminal; stops on Ctrl+C, SIGTERM and SIGHUP.
Run makeRun(const std::string &what, const OutputOptions &options);
void endProgress(const OutputOptions &options);

} // namespace buttonhole::cli
