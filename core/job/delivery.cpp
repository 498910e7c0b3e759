#include "job/delivery.h"

#include "document/json_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <ctime>
#include <filesystem>

namespace buttonhole
{

namespace
{

using nlohmann::json;
namespace fs = std::filesystem;

constexpr std::array kFormatWords = {"jpeg", "png", "tiff", "webp", "avif", "openraster"};
constexpr std::array kSpaceWords = {"photo", "srgb"};
constexpr std::array kCarriedWords = {"all", "credits", "none"};
constexpr std::array kSizeWords = {"own", "longEdge", "megapixels", "percent", "within"};
constexpr std::array kWhereWords = {"beside", "subfolder", "folder"};
constexpr std::array kIfThereWords = {"number", "replace", "skip"};

template <class Value, size_t N>
void readWord(const json &in, const char *member, const std::array<const char *, N> &words,
              Value &out)
{
    const auto at = in.find(member);
    if (at == in.end())
        return;
    const std::string word = at->template get<std::string>();
    std::string known;
    for (size_t i = 0; i < N; ++i) {
        known += (known.empty() ? "" : ", ") + std::string(words[i]);
        if (word == words[i]) {
            out = Value(i);
            return;
        }
    }
    throw Error{ErrorKind::BadValue, member, "\"" + word + "\"; there are: " + known};
}

template <class Number>
void readNumber(const json &in, const char *member, double least, double most, Number &out)
{
    const auto at = in.find(member);
    if (at == in.end())
        return;
    const double value = at->template get<double>();
    if (!(value >= least && value <= most))
        throw Error{ErrorKind::BadValue, member, expectedNumber(float(least), float(most))};
    out = Number(value);
}

void readText(const json &in, const char *member, std::string &out)
{
    out = in.value(member, out);
    if (out.size() > Delivery::kMostName)
        throw Error{ErrorKind::BadValue, member, "it is longer than 200 bytes"};
}

Delivery readDelivery(const json &in)
{
    Delivery out;
    ExportSettings &picture = out.picture;
    readWord(in, "format", kFormatWords, picture.format);
    readWord(in, "profile", kSpaceWords, picture.space);
    readWord(in, "metadata", kCarriedWords, picture.carried);
    readNumber(in, "quality", 1, 100, picture.quality);
    readNumber(in, "bits", 8, 16, picture.bits);
    readNumber(in, "sharpen", 0, 1, picture.sharpen);
    picture.signs = in.value("signed", picture.signs);
    picture.stripLocation = in.value("stripLocation", picture.stripLocation);
    readText(in, "copyright", picture.copyright);
    readText(in, "description", picture.description);
    const json size = in.value("size", json::object());
    readWord(size, "by", kSizeWords, out.size.kind);
    readNumber(size, "amount", 0, 1e6, out.size.amount);
    readNumber(size, "width", 0, 1e6, out.size.width);
    readNumber(size, "height", 0, 1e6, out.size.height);
    readText(in, "name", out.name);
    readWord(in, "where", kWhereWords, out.where);
    readText(in, "folder", out.folder);
    readWord(in, "ifThere", kIfThereWords, out.ifThere);
    out.masks = in.value("masks", out.masks);
    return out;
}

} // namespace

int longEdgeFor(const SizeRule &rule, int width, int height)
{
    const double longEdge = std::max(width, height);
    const auto px = [](double length) { return std::max(1, int(std::lround(length))); };
    switch (rule.kind) {
    case SizeRule::Kind::Own:
        break;
    case SizeRule::Kind::LongEdge:
        return std::max(0, int(std::lround(rule.amount)));
    case SizeRule::Kind::Megapixels:
        if (rule.amount > 0)
            return px(longEdge * std::sqrt(rule.amount * 1e6 / (double(width) * height)));
        break;
    case SizeRule::Kind::Percent:
        if (rule.amount > 0)
            return px(longEdge * rule.amount / 100);
        break;
    case SizeRule::Kind::Within:
        if (rule.width > 0 && rule.height > 0)
            return std::max(1, int(longEdge * std::min(double(rule.width) / width,
                                                       double(rule.height) / height) +
                                   1e-9));
        break;
    }
    return 0;
}

std::optional<PictureFormat> formatFromWord(std::string_view word)
{
    const auto at = std::find(kFormatWords.begin(), kFormatWords.end(), word);
    if (at == kFormatWords.end())
        return std::nullopt;
    return PictureFormat(at - kFormatWords.begin());
}

std::string deliveryToJson(const Delivery &delivery)
{
    const ExportSettings &picture = delivery.picture;
    json out{{"format", kFormatWords[size_t(picture.format)]},
             {"profile", kSpaceWords[size_t(picture.space)]},
             {"metadata", kCarriedWords[size_t(picture.carried)]},
             {"quality", picture.quality},
             {"bits", picture.bits},
             {"sharpen", picture.sharpen},
             {"signed", picture.signs},
             {"stripLocation", picture.stripLocation},
             {"name", delivery.name},
             {"where", kWhereWords[size_t(delivery.where)]},
             {"ifThere", kIfThereWords[size_t(delivery.ifThere)]},
             {"masks", delivery.masks},
             {"size", {{"by", kSizeWords[size_t(delivery.size.kind)]}}}};
    if (delivery.size.kind == SizeRule::Kind::Within) {
        out["size"]["width"] = delivery.size.width;
        out["size"]["height"] = delivery.size.height;
    } else if (delivery.size.kind != SizeRule::Kind::Own) {
        out["size"]["amount"] = delivery.size.amount;
    }
    const auto put = [&](const char *member, const std::string &text) {
        if (!text.empty())
            out[member] = text;
    };
    put("copyright", picture.copyright);
    put("description", picture.description);
    put("folder", delivery.folder);
    return out.dump(-1, ' ', false, json::error_handler_t::replace);
}

Result<Delivery> deliveryFromJson(const std::string &text, const std::string &subject)
{
    const auto parsed = jsonFromText(text, subject);
    if (!parsed)
        return parsed.error();
    try {
        if (!parsed->is_object())
            return Error{ErrorKind::BadValue, subject, "an object is expected"};
        return readDelivery(*parsed);
    } catch (const Error &problem) {
        return Error{ErrorKind::BadValue, subject, problem.subject + ": " + problem.detail};
    } catch (const json::exception &problem) {
        return Error{ErrorKind::BadValue, subject, inWords(problem)};
    }
}

std::string fileNameFor(const std::string &pattern, const NameFacts &facts)
{
    const std::string last = std::to_string(facts.count);
    std::string number = std::to_string(facts.number);
    number.insert(0, last.size() > number.size() ? last.size() - number.size() : 0, '0');
    const std::pair<std::string, const std::string *> tokens[] = {{"{name}", &facts.name},
                                                                  {"{take}", &facts.take},
                                                                  {"{taken}", &facts.taken},
                                                                  {"{date}", &facts.date},
                                                                  {"{number}", &number}};
    std::string out;
    for (size_t i = 0; i < pattern.size();) {
        const auto token =
            std::find_if(std::begin(tokens), std::end(tokens), [&](const auto &each) {
                return pattern.compare(i, each.first.size(), each.first) == 0;
            });
        if (token == std::end(tokens)) {
            out += pattern[i++];
            continue;
        }
        out += *token->second;
        i += token->first.size();
    }
    for (char &c : out)
        if (c == '/' || static_cast<unsigned char>(c) < 0x20)
            c = '-';
    if (out.empty() || out.front() == '.') // not hidden, no way up
        out.insert(out.begin(), '-');
    return out;
}

std::string takenOn(const Metadata &metadata)
{
    for (const auto &[name, value] : metadata.summary())
        if (name == "taken" && value.size() >= 10) {
            std::string day = value.substr(0, 10); // EXIF: 2026:06:14 10:20:30
            std::replace(day.begin(), day.end(), ':', '-');
            return day;
        }
    return {};
}

std::string today()
{
    const std::time_t now = std::time(nullptr);
    std::tm local{};
    ::localtime_r(&now, &local);
    char out[16];
    std::strftime(out, sizeof(out), "%Y-%m-%d", &local);
    return out;
}

std::string deliveredPath(const Delivery &delivery, const std::string &photo,
                          const NameFacts &facts)
{
    fs::path folder = fs::path(photo).parent_path();
    if (delivery.where == Delivery::Where::Subfolder)
        folder /= fileNameFor(delivery.folder.empty() ? "delivered" : delivery.folder, facts);
    else if (delivery.where == Delivery::Where::Folder)
        folder = delivery.folder;
    return (folder / (fileNameFor(delivery.name, facts) + endingFor(delivery.picture.format)))
        .string();
}

std::string numberedPath(const std::string &path,
                         const std::function<bool(const std::string &)> &isTaken, int *last)
{
    int number = last ? *last : 0;
    if (number == 0 && !isTaken(path)) {
        if (last)
            *last = 1;
        return path;
    }
    const fs::path whole(path);
    const std::string begin = (whole.parent_path() / whole.stem()).string();
    for (number = std::max(number, 1) + 1;; ++number) {
        std::string next = begin + "-" + std::to_string(number) + whole.extension().string();
        if (isTaken(next))
            continue;
        if (last)
            *last = number;
        return next;
    }
}

} // namespace buttonhole
