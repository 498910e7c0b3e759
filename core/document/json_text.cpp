#include "document/json_text.h"

namespace buttonhole
{

std::string inWords(const nlohmann::json::exception &problem)
{
    constexpr int kNoSuchMember = 403; // key 'steps' not found
    const std::string said = problem.what();
    const size_t numbering = said.find("] ");
    std::string words = numbering == std::string::npos ? said : said.substr(numbering + 2);
    const size_t from = words.find('\'');
    const size_t to = words.rfind('\'');
    if (problem.id == kNoSuchMember && from < to)
        words = '"' + words.substr(from + 1, to - from - 1) + "\" is missing";
    return words;
}

Result<nlohmann::json> jsonFromText(std::string_view text, const std::string &subject)
{
    try {
        return nlohmann::json::parse(text);
    } catch (const nlohmann::json::exception &problem) {
        return Error{ErrorKind::Damaged, subject, "it is not JSON: " + inWords(problem)};
    }
}

} // namespace buttonhole
