#pragma once

#include "io/file.h"

#include <set>

namespace buttonhole
{

/// The files that a delivery reads, whatever names and links lead to them: nothing is written to
/// them. Every output asks here before it is written: pictures, masks, lists of what is done.
class OutputGuard
{
public:
    void protect(const std::string &path);
    bool isProtected(const std::string &path) const;
    /// Errors: InvalidArgument.
    Result<void> check(const std::string &path) const;

private:
    std::set<std::pair<uint64_t, uint64_t>> m_nodes; ///< device and inode
    std::set<std::string> m_paths; ///< links followed; of those that are not there yet, too
};

} // namespace buttonhole
