#include "base/give_way.h"

#include <sys/resource.h>
#include <unistd.h>

namespace buttonhole
{

void giveWay()
{
    constexpr int kNice = 5; // about a third of the time, not none: other programs are busy too
    thread_local bool gave = false;
    if (gave)
        return;
    gave = true;
    // On Linux a thread has a nice value of its own. It stays as it is where that is refused.
    (void)setpriority(PRIO_PROCESS, id_t(gettid()), kNice);
}

} // namespace buttonhole
