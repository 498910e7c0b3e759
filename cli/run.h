#pragma once

namespace buttonhole
{

/// The command line as a whole. @return its exit code
int runCli(int argc, char **argv);

} // namespace buttonhole
