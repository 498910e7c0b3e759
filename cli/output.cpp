#include "output.h"

#include <nlohmann/json.hpp>

#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <memory>

#include <unistd.h>

namespace buttonhole::cli
{

namespace
{

std::stop_source &interrupt()
{
    static std::stop_source source;
    return source;
}

bool showsProgress(const OutputOptions &options)
{
    return !options.quiet && !options.json && ::isatty(STDERR_FILENO) == 1;
}

} // namespace

int fail(const Error &error, const OutputOptions &options)
{
    endProgress(options);
    if (options.json) {
        const nlohmann::json out{{"error", kindName(error.kind)},
                                 {"subject", error.subject},
                                 {"detail", error.detail},
                                 {"message", sentence(error)}};
        // A file name need not be UTF-8.
        std::fprintf(stderr, "%s\n",
                     out.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace).c_str());
    } else {
        std::fprintf(stderr, "buttonhole-cli: %s\n", sentence(error).c_str());
    }
    switch (error.kind) {
    case ErrorKind::NotFound:
    case ErrorKind::PhotoMissing:
        return NotFound;
    case ErrorKind::NotAPhoto:
    case ErrorKind::Damaged:
    case ErrorKind::TooLarge:
    case ErrorKind::Newer:
    case ErrorKind::BadValue:
        return BadInput;
    case ErrorKind::InvalidArgument:
        return WrongUse;
    case ErrorKind::NoPermission:
    case ErrorKind::DiskFull:
    case ErrorKind::Conflict:
        return CannotWrite;
    case ErrorKind::Cancelled:
    case ErrorKind::OutOfMemory:
    case ErrorKind::Internal:
    case ErrorKind::Io:
        break;
    }
    return Failed;
}

void printNotes(const std::vector<std::string> &notes, const OutputOptions &options)
{
    if (options.quiet || options.json)
        return;
    for (const std::string &note : notes)
        std::fprintf(stderr, "buttonhole-cli: note: %s\n", note.c_str());
}

int print(const std::string &text, const OutputOptions &options)
{
    errno = 0;
    if (std::fprintf(stdout, "%s\n", text.c_str()) < 0 || std::fflush(stdout) != 0)
        return fail(systemError("standard output"), options);
    return Ok;
}

Run makeRun(const std::string &what, const OutputOptions &options)
{
    static const auto stopping = [] {
        // request_stop() takes no lock that the interrupted thread could hold for long, but is not
        // promised to be safe in a signal handler; a second one ends the program at once.
        for (const int number : {SIGINT, SIGTERM, SIGHUP})
            std::signal(number, [](int came) {
                std::signal(came, SIG_DFL);
                interrupt().request_stop();
            });
        return interrupt().get_token();
    }();
    Run run;
    run.stop = stopping;
    if (showsProgress(options)) {
        auto shown = std::make_shared<std::atomic<int>>(-1);
        run.progress = [what, shown](float done) {
            const int percent = int(done * 100);
            if (percent > shown->exchange(percent))
                std::fprintf(stderr, "\r%s %3d %%", what.c_str(), percent);
        };
    }
    return run;
}

void endProgress(const OutputOptions &options)
{
    if (showsProgress(options))
        std::fprintf(stderr, "\r\033[K");
}

} // namespace buttonhole::cli
