#pragma once

#include "light/adjustment.h"

namespace buttonhole
{

/// The numbers of a signature: how large it is, where it lies, what ink it has. Lengths are shares
/// of the picture's shorter edge.
struct SignaturePlace {
    float size = 0.035F;  ///< 0.005..0.5: height of a line of its text, or of its drawing
    float across = 1;     ///< 0..1: at the left, at the right
    float down = 1;       ///< 0..1: at the top, at the bottom
    float inset = 0.03F;  ///< -0.4..0.4: how far from the picture's edges; below 0 on the frame
    float opacity = 0.9F; ///< 0..1
    float byGround = 1;   ///< 0 or 1: light or dark ink, whichever stands out from what is under it
    float lightness = 0.97F; ///< OKLab L of the ink, where it does not go by the ground
    float colour = 0;        ///< 0..1 of a chroma of 0.15
    float hueDeg = 60;       ///< OKLCh
    float ownColours = 0;    ///< 0 or 1: a drawing's own, not the ink

    static std::span<const Param<SignaturePlace>> rows();
};

/// What is signed with: a text, or a drawing instead of it.
struct SignatureWords {
    std::string text; ///< UTF-8, one line
    std::string
        font; ///< its family and style as Pango words them, "Inter Bold"; empty: a plain one
    std::string drawing; ///< bytes of a PNG or SVG file; empty: the text
    friend bool operator==(const SignatureWords &, const SignatureWords &) = default;
};

/// A signature on the picture or its frame: of the finish. It changes no light; export/mount.h
/// draws it.
class Signature final : public Adjustment
{
public:
    static constexpr std::string_view kKind = "signature";
    static constexpr int kSince = 12;
    static constexpr size_t kMostLetters = 200;             ///< bytes
    static constexpr size_t kMostDrawing = size_t(1) << 20; ///< bytes
    static AdjustmentKind makeKind();

    explicit Signature(SignatureWords words = {}, const SignaturePlace &place = {});
    const SignatureWords &words() const { return m_words; }
    const SignaturePlace &place() const { return m_place; }
    /// Of its words alone.
    uint64_t wordsContent() const { return m_wordsContent; }

    std::string_view kind() const override { return kKind; }
    uint64_t content() const override;
    bool isOff() const override;
    bool changesLight() const override { return false; }
    SourceRef over(SourceRef in) const override { return in; }
    void toJson(nlohmann::json &out) const override;
    float number(size_t index) const override;
    AdjustmentRef withNumber(size_t index, float value) const override;

private:
    SignatureWords m_words;
    SignaturePlace m_place;
    uint64_t m_wordsContent;
};

/// Errors: InvalidArgument: longer than may be, several lines, or no UTF-8.
Result<void> checkWords(const SignatureWords &words);

} // namespace buttonhole
