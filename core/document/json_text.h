#pragma once

#include "base/result.h"

#include <nlohmann/json.hpp>

#include <string>
#include <string_view>

namespace buttonhole
{

/// What is wrong with JSON that somebody wrote, without the library's own numbering: "steps" is
/// missing; type must be number, but is string; parse error at line 3, column 5: ...
std::string inWords(const nlohmann::json::exception &problem);

/// A whole number; one with a fraction or an exponent is refused (throws what JSON does): to turn
/// 1e112 into an id is undefined.
inline int64_t wholeFrom(const nlohmann::json &in)
{
    return in.is_number_integer() ? in.get<int64_t>()
                                  : in.get_ref<const nlohmann::json::number_integer_t &>();
}

/// The same of a member that may be left out.
inline int64_t wholeFrom(const nlohmann::json &in, const char *name, int64_t otherwise)
{
    const auto member = in.find(name);
    return member == in.end() ? otherwise : wholeFrom(*member);
}

bool isUtf8(const std::string &text);
/// A file's name need not be text: one that is no UTF-8 goes into a member of its own, "...Bytes",
/// in hexadecimal digits, and the member is empty.
void putPath(nlohmann::json &out, const std::string &member, const std::string &path);
/// Throws what JSON does where there is none.
std::string pathFrom(const nlohmann::json &in, const std::string &member);

/// Errors: Damaged, with where it stops being JSON; or where it nests deeper than 100: what walks
/// through it would run out of stack.
Result<nlohmann::json> jsonFromText(std::string_view text, const std::string &subject);

} // namespace buttonhole
