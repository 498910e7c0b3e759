#pragma once

#include "base/param.h"

#include <nlohmann/json.hpp>

#include <string_view>

namespace buttonhole
{

enum class ParamsWritten {
    Changed, ///< what is at its default is left out
    All,     ///< where earlier versions took another value for the default
};

/// The member of a dotted id, "tone.black": objects on the way are made. Null where one is no
/// object.
nlohmann::json *memberAt(nlohmann::json &in, std::string_view id);
/// Takes the member of a dotted id out, and objects that hold nothing more then.
void eraseMember(nlohmann::json &in, std::string_view id);
const nlohmann::json *findMember(const nlohmann::json &in, std::string_view id); ///< null: none

template <class T>
void paramsToJson(nlohmann::json &out, const T &value, std::span<const Param<T>> rows,
                  ParamsWritten written = ParamsWritten::Changed)
{
    for (const Param<T> &row : rows)
        if (written == ParamsWritten::All || !row.isOff(value))
            *memberAt(out, row.id) = row.get(value);
}

/// Reads the members that are there. Errors: InvalidArgument, by `place` + the id.
template <class T>
Result<void> paramsFromJson(const nlohmann::json &in, T &value, std::span<const Param<T>> rows,
                            const char *place = "")
{
    for (const Param<T> &row : rows) {
        const nlohmann::json *member = findMember(in, row.id);
        if (!member)
            continue;
        if (!member->is_number())
            return Error{ErrorKind::InvalidArgument, std::string(place) + row.id,
                         expectedNumber(row.least, row.most)};
        row.of(value) = member->template get<float>();
    }
    return checkParams(value, rows, place);
}

} // namespace buttonhole
