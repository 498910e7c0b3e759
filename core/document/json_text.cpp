#include "document/json_text.h"

#include <algorithm>

namespace buttonhole
{

std::string inWords(const nlohmann::json::exception &problem)
{
    constexpr int kNoSuchMember = 403; // key 'steps' not found
    constexpr int kNotWhole = 303;     // what wholeFrom() asks for
    if (problem.id == kNotWhole)
        return "a whole number is expected";
    const std::string said = problem.what();
    const size_t numbering = said.find("] ");
    std::string words = numbering == std::string::npos ? said : said.substr(numbering + 2);
    const size_t from = words.find('\'');
    const size_t to = words.rfind('\'');
    if (problem.id == kNoSuchMember && from < to)
        words = '"' + words.substr(from + 1, to - from - 1) + "\" is missing";
    return words;
}

namespace
{

/// How deep arrays and objects nest; text in quotes does not count.
size_t depthOf(std::string_view text)
{
    size_t depth = 0;
    size_t most = 0;
    bool isQuoted = false;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '"')
            isQuoted = !isQuoted;
        else if (isQuoted)
            i += c == '\\' ? 1 : 0;
        else if (c == '[' || c == '{')
            most = std::max(most, ++depth);
        else if ((c == ']' || c == '}') && depth > 0)
            --depth;
    }
    return most;
}

} // namespace

bool isUtf8(const std::string &text)
{
    try {
        (void)nlohmann::json(text).dump();
        return true;
    } catch (const nlohmann::json::type_error &) {
        return false;
    }
}

namespace
{

std::string toHex(const std::string &bytes)
{
    constexpr char kDigits[] = "0123456789abcdef";
    std::string out;
    for (const char c : bytes) {
        out += kDigits[uint8_t(c) >> 4];
        out += kDigits[uint8_t(c) & 15];
    }
    return out;
}

/// Empty where it is none.
std::string fromHex(const std::string &hex)
{
    std::string out;
    const auto digit = [](char c) { return c >= 'a' ? c - 'a' + 10 : c - '0'; };
    const bool isHex = hex.size() % 2 == 0 && std::all_of(hex.begin(), hex.end(), [](char c) {
                           return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'f');
                       });
    for (size_t i = 0; isHex && i < hex.size(); i += 2)
        out += char(digit(hex[i]) * 16 + digit(hex[i + 1]));
    return out;
}

} // namespace

void putPath(nlohmann::json &out, const std::string &member, const std::string &path)
{
    const bool isText = isUtf8(path);
    out[member] = isText ? path : "";
    if (!isText)
        out[member + "Bytes"] = toHex(path);
}

std::string pathFrom(const nlohmann::json &in, const std::string &member)
{
    const std::string bytes = fromHex(in.value(member + "Bytes", ""));
    return bytes.empty() ? in.at(member).get<std::string>() : bytes;
}

Result<nlohmann::json> jsonFromText(std::string_view text, const std::string &subject)
{
    constexpr size_t kDeepest = 100;
    if (depthOf(text) > kDeepest)
        return Error{ErrorKind::Damaged, subject, "it nests deeper than anything made here"};
    try {
        return nlohmann::json::parse(text);
    } catch (const nlohmann::json::exception &problem) {
        return Error{ErrorKind::Damaged, subject, "it is not JSON: " + inWords(problem)};
    }
}

} // namespace buttonhole
