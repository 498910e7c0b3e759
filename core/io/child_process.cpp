#include "io/child_process.h"

#include "io/descriptor.h"

#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <csignal>
#include <tuple>

namespace buttonhole
{

namespace
{

/// Two ends of one stream. Unlike a pipe it can be written to without a signal when nobody reads.
struct Stream {
    Descriptor own;
    Descriptor childs;
    Stream()
    {
        int ends[2] = {-1, -1};
        if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends) == 0)
            std::tie(own.fd, childs.fd) = std::pair(ends[0], ends[1]);
    }
};

int spawn(const std::string &program, const std::vector<std::string> &arguments, int stream,
          pid_t &child)
{
    std::vector<char *> words{const_cast<char *>(program.c_str())};
    for (const std::string &argument : arguments)
        words.push_back(const_cast<char *>(argument.c_str()));
    words.push_back(nullptr);
    posix_spawn_file_actions_t files;
    posix_spawn_file_actions_init(&files);
    posix_spawn_file_actions_adddup2(&files, stream, STDIN_FILENO);
    posix_spawn_file_actions_adddup2(&files, stream, STDOUT_FILENO);
    posix_spawn_file_actions_addopen(&files, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    sigset_t signals;
    sigemptyset(&signals);
    posix_spawnattr_setsigmask(&attributes, &signals);
    sigfillset(&signals);
    posix_spawnattr_setsigdefault(&attributes, &signals);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGMASK | POSIX_SPAWN_SETSIGDEF);
    const int failed =
        ::posix_spawn(&child, program.c_str(), &files, &attributes, words.data(), environ);
    posix_spawnattr_destroy(&attributes);
    posix_spawn_file_actions_destroy(&files);
    return failed;
}

/// Gives the child its input and takes its output until it closes its end, or must be killed.
/// Returns whether it closed it.
bool talk(int stream, const std::string &input, size_t mostOutput,
          std::chrono::steady_clock::time_point end, ChildEnd &out)
{
    size_t sent = 0;
    bool isSending = true;
    std::vector<char> block(size_t(64) << 10);
    for (;;) {
        if (isSending && sent == input.size()) {
            ::shutdown(stream, SHUT_WR);
            isSending = false;
        }
        const auto left = std::chrono::duration_cast<std::chrono::milliseconds>(
            end - std::chrono::steady_clock::now());
        if (left.count() <= 0) {
            out.isLate = true;
            return false;
        }
        pollfd asked{stream, short(isSending ? POLLIN | POLLOUT : POLLIN), 0};
        if (::poll(&asked, 1, int(left.count())) <= 0)
            continue; // late, or a signal came
        if (isSending && (asked.revents & POLLOUT) != 0) {
            const ssize_t n = ::send(stream, input.data() + sent, input.size() - sent,
                                     MSG_NOSIGNAL | MSG_DONTWAIT);
            if (n > 0)
                sent += size_t(n);
            else if (errno != EINTR && errno != EAGAIN)
                isSending = false; // it wants no more
        }
        if ((asked.revents & (POLLIN | POLLHUP | POLLERR)) == 0)
            continue;
        const ssize_t n = ::recv(stream, block.data(), block.size(), MSG_DONTWAIT);
        if (n == 0 || (n < 0 && errno != EINTR && errno != EAGAIN))
            return true;
        if (n > 0)
            out.output.append(block.data(), size_t(n));
        if (out.output.size() > mostOutput)
            return false;
    }
}

} // namespace

Result<ChildEnd> runChild(const std::string &program, const std::vector<std::string> &arguments,
                          const std::string &input, size_t mostOutput,
                          std::chrono::milliseconds most)
{
    const auto end = std::chrono::steady_clock::now() + most;
    Stream stream;
    if (stream.own.fd < 0)
        return systemError(program);
    pid_t child = 0;
    if (const int failed = spawn(program, arguments, stream.childs.fd, child); failed != 0) {
        errno = failed;
        return systemError(program);
    }
    stream.childs.close();
    ChildEnd out;
    if (!talk(stream.own.fd, input, mostOutput, end, out))
        ::kill(child, SIGKILL);
    int status = 0;
    while (::waitpid(child, &status, 0) < 0)
        if (errno != EINTR)
            return systemError(program);
    if (WIFSIGNALED(status))
        out.signal = WTERMSIG(status);
    else
        out.status = WEXITSTATUS(status);
    return out;
}

} // namespace buttonhole
