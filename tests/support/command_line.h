#pragma once

#include "run.h"

#include <string>
#include <vector>

namespace buttonhole::test
{

/// What the command line ends with, in this process, for these arguments.
inline int runQuietly(std::vector<std::string> words)
{
    words.insert(words.begin(), {"buttonhole-cli", "--quiet"});
    std::vector<char *> argv;
    for (std::string &word : words)
        argv.push_back(word.data());
    return runCli(int(argv.size()), argv.data());
}

} // namespace buttonhole::test
