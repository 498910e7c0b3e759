#include "base/give_way.h"

#include <sys/resource.h>
#include <unistd.h>

namespace buttonhole
{

void giveWay()
{
    constexpr int kBehind = 5; // about a third of the time, not none: other programs are busy too
    thread_local bool gave = false;
    if (gave)
        return;
    gave = true;
    // On Linux a thread has a nice value of its own; the process's is its first thread's.
    const int first = getpriority(PRIO_PROCESS, id_t(getpid()));
    (void)setpriority(PRIO_PROCESS, id_t(gettid()), first + kBehind); // refused: it stays
}

} // namespace buttonhole
