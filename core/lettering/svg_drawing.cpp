#include "lettering/svg_drawing.h"

#include "io/child_process.h"
#include "io/loadable.h"

#include <atomic>
#include <charconv>
#include <csignal>
#include <cstring>

namespace buttonhole
{

namespace
{

// Beside the limits that the program sets itself (helper/draw_svg.cpp): on a busy machine it waits
// for its turn, too.
constexpr std::chrono::seconds kMostWait{20};

Error undrawable()
{
    return signatureError(ErrorKind::BadValue, "its SVG cannot be drawn");
}

Error errorOf(const ChildEnd &end)
{
    const bool isLate = end.isLate || end.signal == SIGXCPU || end.signal == SIGKILL;
    if (isLate)
        return signatureError(ErrorKind::BadValue, "its SVG takes too long to draw");
    if (end.signal != 0)
        return undrawable();
    switch (SvgEnd(end.status)) {
    case SvgEnd::NoSvg:
        return signatureError(ErrorKind::Damaged, "a PNG or an SVG is expected");
    case SvgEnd::NoSize:
        return signatureError(ErrorKind::Damaged, "its SVG says no size");
    case SvgEnd::NoMemory:
        return signatureError(ErrorKind::OutOfMemory, "");
    case SvgEnd::NotDrawn:
    case SvgEnd::Fine:
        break;
    }
    return undrawable();
}

struct Answer {
    SvgAnswer head;
    std::string output; ///< head and pixels
};

/// @param scale 0: its size only
Result<Answer> ask(const std::string &bytes, double scale, size_t mostPixels)
{
    char word[64] = {};
    *std::to_chars(word, word + sizeof word - 1, scale).ptr = 0;
    Result<ChildEnd> end = signatureError(ErrorKind::NotFound, "");
    for (const std::string &place :
         placesOf(BUTTONHOLE_DRAW_SVG_INSTALLED, BUTTONHOLE_DRAW_SVG_BUILD)) {
        end = runChild(place, {word}, bytes, sizeof(SvgAnswer) + mostPixels * 4, kMostWait);
        if (end || end.error().kind != ErrorKind::NotFound)
            break;
    }
    if (!end)
        return end.error();
    Answer out{{}, std::move(end->output)};
    if (end->signal != 0 || end->status != 0 || out.output.size() < sizeof out.head)
        return errorOf(*end);
    std::memcpy(&out.head, out.output.data(), sizeof out.head);
    return out;
}

class Svg final : public Drawing
{
public:
    Svg(std::string bytes, double width, double height)
        : m_bytes(std::move(bytes)), m_width(width), m_height(height)
    {
    }
    double width() const override { return m_width; }
    double height() const override { return m_height; }
    double lineHeight() const override { return m_height; }
    bool hasColours() const override { return true; }
    bool isQuick() const override { return false; }
    Result<Image<uint8_t>> draw(double scale) const override
    {
        const auto [w, h] = drawnSize(m_width, m_height, scale);
        if (!(w <= kMostDrawnSide && h <= kMostDrawnSide && w * h <= kMostDrawnPixels))
            return signatureError(ErrorKind::TooLarge, "make the signature smaller");
        if (m_isHopeless)
            return undrawable();
        const auto answer = ask(m_bytes, scale, size_t(w * h));
        if (!answer) {
            m_isHopeless = answer.error().kind == ErrorKind::BadValue;
            return answer.error();
        }
        Image<uint8_t> out(int(w), int(h), 4);
        const bool isWhole = answer->head.pxWide == out.width() &&
                             answer->head.pxHigh == out.height() &&
                             answer->output.size() == sizeof answer->head + out.bytes();
        if (!isWhole)
            return undrawable();
        std::memcpy(out.row(0), answer->output.data() + sizeof answer->head, out.bytes());
        return out;
    }

private:
    std::string m_bytes;
    double m_width;
    double m_height;
    mutable std::atomic<bool> m_isHopeless = false; ///< it took its time once: not again
};

} // namespace

Result<std::shared_ptr<const Drawing>> drawingOfSvg(const std::string &bytes)
{
    const auto answer = ask(bytes, 0, 0);
    if (!answer)
        return answer.error();
    const auto [width, height] = std::pair(answer->head.width, answer->head.height);
    if (!(width > 0 && height > 0 && width < 1e6 && height < 1e6))
        return signatureError(ErrorKind::Damaged, "its SVG has no size");
    return std::shared_ptr<const Drawing>(std::make_shared<const Svg>(bytes, width, height));
}

} // namespace buttonhole
