#pragma once

#include <unistd.h>

#include <utility>

namespace buttonhole
{

/// An open file, closed with it; negative: none.
class Descriptor
{
public:
    explicit Descriptor(int value = -1) : fd(value) {}
    ~Descriptor() { close(); }
    Descriptor(const Descriptor &) = delete;
    Descriptor &operator=(const Descriptor &) = delete;
    void close()
    {
        if (fd >= 0)
            ::close(std::exchange(fd, -1));
    }

    int fd;
};

} // namespace buttonhole
