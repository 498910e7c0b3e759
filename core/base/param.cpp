#include "base/param_json.h"

#include <cstdio>

namespace buttonhole
{

std::string expectedNumber(float least, float most)
{
    char text[80];
    std::snprintf(text, sizeof text, "a number from %g to %g is expected", double(least),
                  double(most));
    return text;
}

nlohmann::json *memberAt(nlohmann::json &in, std::string_view id)
{
    nlohmann::json *at = &in;
    while (true) {
        if (!at->is_object() && !at->is_null())
            return nullptr;
        const size_t dot = id.find('.');
        at = &(*at)[std::string(id.substr(0, dot))];
        if (dot == std::string_view::npos)
            return at;
        id.remove_prefix(dot + 1);
    }
}

void eraseMember(nlohmann::json &in, std::string_view id)
{
    const size_t dot = id.find('.');
    const auto member = in.is_object() ? in.find(std::string(id.substr(0, dot))) : in.end();
    if (member == in.end())
        return;
    if (dot != std::string_view::npos) {
        eraseMember(*member, id.substr(dot + 1));
        if (!member->is_object() || !member->empty())
            return;
    }
    in.erase(member);
}

const nlohmann::json *findMember(const nlohmann::json &in, std::string_view id)
{
    const nlohmann::json *at = &in;
    while (true) {
        const size_t dot = id.find('.');
        if (!at->is_object())
            return nullptr;
        const auto member = at->find(std::string(id.substr(0, dot)));
        if (member == at->end())
            return nullptr;
        at = &*member;
        if (dot == std::string_view::npos)
            return at;
        id.remove_prefix(dot + 1);
    }
}

Result<size_t> placeOf(std::span<const AnyParam> numbers, std::string_view id, float value)
{
    std::string known;
    for (size_t i = 0; i < numbers.size(); ++i) {
        known += (known.empty() ? "" : ", ") + numbers[i].id;
        if (numbers[i].id != id)
            continue;
        if (!(value >= numbers[i].least && value <= numbers[i].most))
            return Error{ErrorKind::InvalidArgument, std::string(id),
                         expectedNumber(numbers[i].least, numbers[i].most)};
        return i;
    }
    return Error{ErrorKind::NotFound, std::string(id),
                 known.empty() ? "there are no numbers" : "there are: " + known};
}

} // namespace buttonhole
