#include "light/signature.h"

#include "base/base64.h"
#include "base/param_json.h"

#include <functional>

namespace buttonhole
{

namespace
{

using nlohmann::json;

Result<AdjustmentRef> signatureFromJson(const json &in)
{
    SignatureWords words{in.value("text", ""), in.value("font", ""), {}};
    if (const std::string drawing = in.value("drawing", ""); !drawing.empty()) {
        constexpr size_t kMostText = Signature::kMostDrawing / 3 * 4 + 8;
        auto bytes = drawing.size() > kMostText
                         ? Error{ErrorKind::InvalidArgument, {}, "it is longer than 1 MB"}
                         : bytesOfBase64(drawing);
        if (!bytes)
            return Error{ErrorKind::InvalidArgument, "drawing", bytes.error().detail};
        words.drawing = std::move(*bytes);
    }
    if (auto fine = checkWords(words); !fine)
        return fine.error();
    SignaturePlace place;
    if (auto fine = paramsFromJson(in, place, SignaturePlace::rows()); !fine)
        return fine.error();
    return AdjustmentRef(std::make_shared<const Signature>(std::move(words), place));
}

uint64_t contentOf(const SignatureWords &words)
{
    const std::hash<std::string> hash;
    return joinedContent(joinedContent(hash(words.text), hash(words.font)), hash(words.drawing));
}

} // namespace

std::span<const Param<SignaturePlace>> SignaturePlace::rows()
{
    using S = SignaturePlace;
    static constexpr ParamScale kOfEdge{100, " %", 1};
    static constexpr ParamScale kShare{100, " %"};
    static constexpr ParamScale kPlain{100};
    static constexpr ParamScale kSwitch{.factor = 1, .hasSlider = false};
    static constexpr int kSince = Signature::kSince;
    static constexpr Param<S> kRows[] = {
        {"size",
         [](S &s) -> float & { return s.size; },
         0.005F,
         0.5F,
         kSince,
         {100, " %", 1, ParamScale::Way::Logarithmic}},
        {"opacity", [](S &s) -> float & { return s.opacity; }, 0, 1, kSince, kShare},
        {"across", [](S &s) -> float & { return s.across; }, 0, 1, kSince, kShare},
        {"down", [](S &s) -> float & { return s.down; }, 0, 1, kSince, kShare},
        {"inset", [](S &s) -> float & { return s.inset; }, -0.4F, 0.4F, kSince, kOfEdge},
        {"lightness", [](S &s) -> float & { return s.lightness; }, 0, 1, kSince, kPlain},
        {"colour", [](S &s) -> float & { return s.colour; }, 0, 1, kSince, kPlain},
        {"hueDeg",
         [](S &s) -> float & { return s.hueDeg; },
         0,
         360,
         kSince,
         {1, "°", 0, ParamScale::Way::Hues}},
        {"byGround", [](S &s) -> float & { return s.byGround; }, 0, 1, kSince, kSwitch},
        {"ownColours", [](S &s) -> float & { return s.ownColours; }, 0, 1, kSince, kSwitch}};
    return kRows;
}

Signature::Signature(SignatureWords words, const SignaturePlace &place)
    : m_words(std::move(words)), m_place(place), m_wordsContent(contentOf(m_words))
{
}

uint64_t Signature::content() const
{
    return buttonhole::contentOf(m_place, SignaturePlace::rows(), m_wordsContent);
}

bool Signature::isOff() const
{
    return (m_words.text.empty() && m_words.drawing.empty()) || m_place.opacity == 0;
}

void Signature::toJson(json &out) const
{
    if (!m_words.text.empty())
        out["text"] = m_words.text;
    if (!m_words.font.empty())
        out["font"] = m_words.font;
    if (!m_words.drawing.empty())
        out["drawing"] = base64Of(m_words.drawing);
    paramsToJson(out, m_place, SignaturePlace::rows());
}

float Signature::number(size_t index) const
{
    return SignaturePlace::rows()[index].get(m_place);
}

AdjustmentRef Signature::withNumber(size_t index, float value) const
{
    SignaturePlace place = m_place;
    SignaturePlace::rows()[index].of(place) = value;
    return std::make_shared<const Signature>(m_words, place);
}

AdjustmentKind Signature::makeKind()
{
    AdjustmentKind out;
    out.id = kKind;
    out.since = kSince;
    out.numbers = anyParams(SignaturePlace::rows());
    out.initial = std::make_shared<const Signature>();
    out.fromJson = signatureFromJson;
    return out;
}

Result<void> checkWords(const SignatureWords &words)
{
    const auto bad = [](const char *member, const char *detail) {
        return Error{ErrorKind::InvalidArgument, member, detail};
    };
    for (const auto &[member, text] :
         {std::pair("text", &words.text), std::pair("font", &words.font)}) {
        if (text->size() > Signature::kMostLetters)
            return bad(member, "it is longer than 200 bytes");
        for (const char letter : *text)
            if (const auto code = static_cast<unsigned char>(letter); code < 0x20 || code == 0x7F)
                return bad(member, "one line of text is expected");
        try {
            (void)json(*text).dump(); // knows UTF-8
        } catch (const json::exception &) {
            return bad(member, "text in UTF-8 is expected");
        }
    }
    if (words.drawing.size() > Signature::kMostDrawing)
        return bad("drawing", "it is longer than 1 MB");
    return {};
}

} // namespace buttonhole
