#include "document/set_param.h"

#include <cstdlib>

namespace buttonhole
{

namespace
{

template <class T>
Result<void> setIn(T &value, std::span<const Param<T>> rows, const std::string &id, float number,
                   const std::string &assignment)
{
    std::string known;
    for (const Param<T> &row : rows) {
        known += (known.empty() ? "" : ", ") + std::string(row.id);
        if (id != row.id)
            continue;
        if (!(number >= row.least && number <= row.most))
            return Error{ErrorKind::InvalidArgument, assignment,
                         expectedNumber(row.least, row.most)};
        row.of(value) = number;
        return {};
    }
    return Error{ErrorKind::NotFound, assignment, "there are: " + known};
}

} // namespace

Result<Take> withParam(Take take, const std::string &assignment)
{
    const size_t equals = assignment.rfind('=');
    const std::string path = assignment.substr(0, equals);
    char *end = nullptr;
    const std::string text = equals == std::string::npos ? "" : assignment.substr(equals + 1);
    const float number = std::strtof(text.c_str(), &end);
    if (text.empty() || *end != 0)
        return Error{ErrorKind::InvalidArgument, assignment,
                     "grey.ID=NUMBER or keep:NAME.ID=NUMBER is expected"};
    constexpr std::string_view kGrey = "grey.";
    constexpr std::string_view kKeep = "keep:";
    Result<void> done;
    if (path.rfind(kGrey, 0) == 0) {
        done = setIn(take.grey, greyParams(), path.substr(kGrey.size()), number, assignment);
        if (done)
            done = check(take.grey);
        return done ? Result<Take>(std::move(take)) : done.error();
    }
    std::string known;
    for (Keep &keep : take.keeps) { // names may hold dots
        known += (known.empty() ? "" : ", ") + keep.name;
        const std::string start = std::string(kKeep) + keep.name + ".";
        if (path.rfind(start, 0) != 0)
            continue;
        done = setIn(keep, keepParams(), path.substr(start.size()), number, assignment);
        return done ? Result<Take>(std::move(take)) : done.error();
    }
    return Error{ErrorKind::NotFound, assignment, "keeps there are: " + known};
}

} // namespace buttonhole
