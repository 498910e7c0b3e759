// Draws one SVG and ends: `buttonhole-draw-svg SCALE < SVG > ANSWER`. With a scale of 0 it answers
// with the drawing's size alone. Run by lettering/svg_drawing.cpp, which says what the answer is.
#include "lettering/module/sheet.h"
#include "lettering/svg_drawing.h"

#include <librsvg/rsvg.h>

#include <charconv>
#include <csignal>
#include <cstdio>
#include <string>
#include <tuple>

#include <sys/prctl.h>
#include <sys/resource.h>
#include <unistd.h>

namespace buttonhole
{

namespace
{

constexpr rlim_t kMostSeconds = 5;                 ///< of processor time, and one for each 10 MP
constexpr rlim_t kMostMemory = rlim_t(2048) << 20; ///< bytes
constexpr double kPixelsASecond = 10e6;

using HandlePtr = std::unique_ptr<void, Freed<g_object_unref>>;

void limit(int what, rlim_t most)
{
    rlimit now{};
    ::getrlimit(what, &now);
    now.rlim_cur = std::min(most, now.rlim_max);
    ::setrlimit(what, &now);
}

void limitAll()
{
    ::prctl(PR_SET_PDEATHSIG, SIGKILL); // nobody waits for it any more
    std::signal(SIGXFSZ, SIG_IGN);      // the cache of fonts may not be written: fine
    limit(RLIMIT_CORE, 0);
    limit(RLIMIT_FSIZE, 0);
    limit(RLIMIT_CPU, kMostSeconds);
#ifndef __SANITIZE_ADDRESS__ // its shadow takes more
    limit(RLIMIT_AS, kMostMemory);
#endif
}

std::string allInput()
{
    std::string out;
    char block[65536];
    for (ssize_t n = 0; (n = ::read(STDIN_FILENO, block, sizeof block)) > 0;)
        out.append(block, size_t(n));
    return out;
}

/// Its size in its own units; none: it says none.
std::pair<double, double> sizeOf(RsvgHandle *svg)
{
    double width = 0;
    double height = 0;
    if (rsvg_handle_get_intrinsic_size_in_pixels(svg, &width, &height))
        return {width, height};
    gboolean hasWidth = false;
    gboolean hasHeight = false;
    gboolean hasBox = false;
    RsvgLength ignored{};
    RsvgRectangle box{};
    rsvg_handle_get_intrinsic_dimensions(svg, &hasWidth, &ignored, &hasHeight, &ignored, &hasBox,
                                         &box);
    return hasBox ? std::pair(box.width, box.height) : std::pair(0.0, 0.0);
}

SvgEnd answer(const SvgAnswer &head, const uint8_t *pixels, size_t bytes)
{
    const bool isDone = std::fwrite(&head, sizeof head, 1, stdout) == 1 &&
                        (bytes == 0 || std::fwrite(pixels, bytes, 1, stdout) == 1) &&
                        std::fflush(stdout) == 0;
    return isDone ? SvgEnd::Fine : SvgEnd::NotDrawn;
}

SvgEnd drawSvg(const std::string &bytes, double scale)
{
    // Without a place of its own it may not look at other files.
    const HandlePtr handle(rsvg_handle_new_from_data(reinterpret_cast<const guint8 *>(bytes.data()),
                                                     bytes.size(), nullptr));
    if (!handle)
        return SvgEnd::NoSvg;
    auto *svg = static_cast<RsvgHandle *>(handle.get());
    SvgAnswer head;
    std::tie(head.width, head.height) = sizeOf(svg);
    if (!(head.width > 0 && head.height > 0))
        return SvgEnd::NoSize;
    if (scale == 0)
        return answer(head, nullptr, 0);
    const auto sheet = sheetFor(head.width, head.height, scale);
    if (!sheet)
        return SvgEnd::NoMemory;
    const auto [w, h] = drawnSize(head.width, head.height, scale);
    limit(RLIMIT_CPU, kMostSeconds + rlim_t(w * h / kPixelsASecond));
    const RsvgRectangle all{0, 0, head.width * scale, head.height * scale};
    if (!rsvg_handle_render_document(svg, (*sheet)->cairo(), &all, nullptr))
        return SvgEnd::NotDrawn;
    const Image<uint8_t> pixels = (*sheet)->pixels();
    head.pxWide = pixels.width();
    head.pxHigh = pixels.height();
    return answer(head, pixels.row(0), pixels.bytes());
}

} // namespace

} // namespace buttonhole

int main(int count, char **words)
{
    using namespace buttonhole;
    limitAll();
    double scale = 0;
    const std::string word = count == 2 ? words[1] : "";
    const auto [end, problem] = std::from_chars(word.data(), word.data() + word.size(), scale);
    if (problem != std::errc() || *end != 0 || !(scale >= 0)) {
        std::fputs("buttonhole-draw-svg SCALE < SVG: a part of Buttonhole\n", stderr);
        return 64;
    }
    try {
        return int(drawSvg(allInput(), scale));
    } catch (const std::bad_alloc &) {
        return int(SvgEnd::NoMemory);
    }
}
