#pragma once

#include "base/result.h"

#include <memory>
#include <string>

namespace buttonhole
{

/// Says that a window or program works on a .buttonhole file: one at a time, for as long as the
/// object lives; it goes with its process, however that ends. It lies in the user's own runtime
/// folder, not beside the file, so that no folder of pictures fills with locks. Other machines that
/// share a disk are not held off by it; saveContainer() notices what they wrote.
class WorkLock
{
public:
    /// Null where somebody else has it.
    static std::shared_ptr<const WorkLock> take(const std::string &path);
    ~WorkLock();
    WorkLock(const WorkLock &) = delete;
    WorkLock &operator=(const WorkLock &) = delete;
    bool isOf(const std::string &path) const;

private:
    WorkLock(int descriptor, std::string place)
        : m_descriptor(descriptor), m_place(std::move(place))
    {
    }
    int m_descriptor;
    std::string m_place;
};

} // namespace buttonhole
