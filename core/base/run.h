#pragma once

#include <functional>
#include <stop_token>

namespace buttonhole
{

/// How a long call is watched: `stop` is asked about once a tile; `progress` gets a fraction 0..1
/// from any thread (the receiver ignores a lower one than it has). A stopped call returns
/// ErrorKind::Cancelled and leaves nothing half-changed.
struct Run {
    std::stop_token stop;
    std::function<void(float)> progress;

    bool stopped() const { return stop.stop_requested(); }
    void report(float fraction) const
    {
        if (progress)
            progress(fraction);
    }
};

} // namespace buttonhole
