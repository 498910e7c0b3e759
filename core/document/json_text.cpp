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
