#include "document/takes.h"

#include <algorithm>

namespace buttonhole
{

std::string freeTakeName(const Work &work)
{
    for (int n = 1;; ++n) {
        const std::string name = "Take " + std::to_string(n);
        if (std::none_of(work.takes.begin(), work.takes.end(),
                         [&](const auto &take) { return take->name == name; }))
            return name;
    }
}

Work withNewTake(Work work, Take take)
{
    take.name = freeTakeName(work);
    work.current = work.takes.size();
    work.takes.push_back(std::make_shared<const Take>(std::move(take)));
    return work;
}

Work withCopyOfTake(Work work)
{
    Take copy = work.take();
    copy.name = freeTakeName(work);
    ++work.current;
    work.takes.insert(work.takes.begin() + ptrdiff_t(work.current),
                      std::make_shared<const Take>(std::move(copy)));
    return work;
}

Work withoutTake(Work work, size_t index)
{
    if (index >= work.takes.size() || work.takes.size() == 1)
        return work;
    work.takes.erase(work.takes.begin() + ptrdiff_t(index));
    if (work.current > index || work.current == work.takes.size())
        --work.current;
    return work;
}

Work withTakeNamed(Work work, size_t index, const std::string &name)
{
    if (index >= work.takes.size() || name.empty())
        return work;
    Take take = *work.takes[index];
    take.name = name;
    work.takes[index] = std::make_shared<const Take>(std::move(take));
    return work;
}

Work withTakeAt(Work work, size_t from, size_t to)
{
    if (from >= work.takes.size() || to >= work.takes.size())
        return work;
    const auto current = work.takes[work.current];
    const auto moved = work.takes[from];
    work.takes.erase(work.takes.begin() + ptrdiff_t(from));
    work.takes.insert(work.takes.begin() + ptrdiff_t(to), moved);
    work.current =
        size_t(std::find(work.takes.begin(), work.takes.end(), current) - work.takes.begin());
    return work;
}

Work withCurrentTake(Work work, size_t index)
{
    if (index < work.takes.size())
        work.current = index;
    return work;
}

} // namespace buttonhole
