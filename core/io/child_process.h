#pragma once

#include "base/result.h"

#include <chrono>
#include <string>
#include <vector>

namespace buttonhole
{

/// How a program that was run ended.
struct ChildEnd {
    std::string output;  ///< what it wrote to its standard output
    int status = 0;      ///< its exit status; undefined when it was ended by a signal
    int signal = 0;      ///< what ended it, 0: itself
    bool isLate = false; ///< it was ended because its time was over
};

/// Runs a program with `input` as its standard input and nothing for its messages, and waits for
/// its end, at most `most`: then it is killed. It is killed too once it has written more than
/// `mostOutput` bytes. Errors: NotFound (no such program), Io.
Result<ChildEnd> runChild(const std::string &program, const std::vector<std::string> &arguments,
                          const std::string &input, size_t mostOutput,
                          std::chrono::milliseconds most);

} // namespace buttonhole
