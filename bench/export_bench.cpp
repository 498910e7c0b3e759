// A photo through buttonhole-cli, beside the codec alone: decode and encode of the same file by
// libjpeg-turbo in the same run. Prints medians, the ratio and the peak memory of the process.
#include "io/file.h"
#include "io/jpeg.h"
#include "make_photo.h"
#include "table.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include <nlohmann/json.hpp>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>

extern char **environ;

namespace
{

using namespace buttonhole;
using Clock = std::chrono::steady_clock;

double secondsSince(Clock::time_point start)
{
    return std::chrono::duration<double>(Clock::now() - start).count();
}

struct Codec {
    double decode = 0;
    double encode = 0;
};

Codec codecAlone(const std::string &photo)
{
    const auto bytes = readFile(photo).value();
    auto start = Clock::now();
    const auto decoded = decodeJpeg(bytes, photo, {}).value();
    Codec out;
    out.decode = secondsSince(start);
    const auto &image = std::get<Image<uint8_t>>(decoded.pixels);
    PictureSpec spec;
    spec.width = image.width();
    spec.height = image.height();
    start = Clock::now();
    (void)encodeJpeg(image, spec);
    out.encode = secondsSince(start);
    return out;
}

/// Wall seconds and peak kilobytes of one command.
std::pair<double, long> runOnce(const std::vector<std::string> &words)
{
    std::vector<char *> argv;
    for (const auto &word : words)
        argv.push_back(const_cast<char *>(word.c_str()));
    argv.push_back(nullptr);
    const auto start = Clock::now();
    pid_t pid = 0;
    if (posix_spawn(&pid, argv[0], nullptr, nullptr, argv.data(), environ) != 0)
        std::exit(1);
    int status = 0;
    rusage usage{};
    wait4(pid, &status, 0, &usage);
    if (status != 0) {
        std::fprintf(stderr, "%s failed\n", argv[0]);
        std::exit(1);
    }
    return {secondsSince(start), usage.ru_maxrss};
}

struct Bar {
    double ratio = 0; ///< 0: none
    long megabytes = 0;
};

void measure(const std::string &title, const std::string &photo,
             const std::vector<std::string> &words, int runs, const Bar &bar)
{
    std::vector<double> codecs;
    std::vector<double> whole;
    std::vector<double> ratios;
    long peak = 0;
    for (int i = 0; i < runs; ++i) {
        const Codec codec = codecAlone(photo);
        const auto [seconds, kilobytes] = runOnce(words);
        codecs.push_back(codec.decode + codec.encode);
        whole.push_back(seconds);
        ratios.push_back(seconds / codecs.back());
        peak = std::max(peak, kilobytes / 1024);
    }
    const double ratio = bench::median(ratios);
    const auto [least, most] = std::minmax_element(ratios.begin(), ratios.end());
    bench::print({title, bench::text("%.0f ms", bench::median(whole) * 1e3),
                  bench::text("decode + encode alone %.0f ms", bench::median(codecs) * 1e3),
                  bench::text("%.2f", ratio) + bench::text(" (%.2f", *least) +
                      bench::text(" to %.2f)", *most),
                  bar.ratio > 0 ? bench::text("<= %.1f", bar.ratio) : "",
                  bar.ratio <= 0 || ratio <= bar.ratio});
    bench::print({title + ", peak memory", std::to_string(peak) + " MB", "", "",
                  bar.megabytes > 0 ? "<= " + std::to_string(bar.megabytes) + " MB" : "",
                  bar.megabytes <= 0 || peak <= bar.megabytes});
}

std::string writeTake(const std::string &name, const nlohmann::json &take)
{
    const std::string path =
        (std::filesystem::temp_directory_path() / ("buttonhole-bench-" + name + ".json")).string();
    const std::string text = take.dump();
    if (!writeBytesAtomically(path, text.data(), text.size()))
        std::exit(1);
    return path;
}

/// A take that keeps the ball of wool from a box round it, its edge as soft as the photo is sharp,
/// spill taken out: the slowest keep of all. Or several such keeps, each of its own box and width.
/// Boxes are in px, so each size has a file of its own.
std::string ballTake(int megapixels, int keeps)
{
    const double px = std::sqrt(megapixels * 1e6 / (2400.0 * 1600.0));
    nlohmann::json all = nlohmann::json::array();
    for (int i = 0; i < keeps; ++i) {
        const nlohmann::json step = {
            {"kind", "subject"},
            {"sign", "add"},
            {"box", {(1016 - 4 * i) * px, 356 * px, 1932 * px, 1600 * px}}};
        all.push_back({{"name", "Ball " + std::to_string(i + 1)},
                       {"softEdgePx", 6 + i * 0.1},
                       {"softEdgeFound", true},
                       {"spill", 0.8},
                       {"steps", {step}}});
    }
    const nlohmann::json take = {{"format", "buttonhole-take"},
                                 {"version", 5},
                                 {"name", "Ball"},
                                 {"grey", {{"on", true}, {"base", "luminance"}}},
                                 {"keeps", std::move(all)}};
    return writeTake("ball", take);
}

enum class Tones { None, Light, Texture, Fades };

nlohmann::json fade(const char *shape, std::array<int, 2> from, std::array<int, 2> to)
{
    return {{"kind", "fade"}, {"sign", "add"}, {"shape", shape}, {"from", from}, {"to", to}};
}

/// Local tones everywhere, or as they are set by hand: a spotlight on what is kept, what is round
/// it, a calm sky, bite below.
nlohmann::json tonesOf(Tones tones)
{
    using nlohmann::json;
    const json spot = fade("round", {3000, 2000}, {4400, 2000});
    const json sky = fade("straight", {3000, 600}, {3000, 1800});
    const json ground = fade("straight", {3000, 3600}, {3000, 2600});
    const json lit = {{"kind", "light"}, {"exposureEv", 0.35}};
    const json settled = {{"kind", "light"}, {"exposureEv", -0.5}, {"saturation", -0.3}};
    const json darker = {{"kind", "light"}, {"exposureEv", -0.3}, {"holdHighlights", 0.5}};
    const json firmer = {{"kind", "light"}, {"contrast", 0.2}};
    const json fog = {{"kind", "fog"}, {"amount", 0.3}};
    const json calm = {{"kind", "texture"}, {"fine", -0.5}, {"coarse", -0.3}};
    const json bite = {{"kind", "texture"}, {"fine", 0.5}, {"coarse", 0.25}};
    if (tones == Tones::None)
        return json::array();
    if (tones == Tones::Fades)
        return {{{"steps", {spot}}, {"effects", {lit}}},
                {{"steps", {spot}}, {"invert", true}, {"effects", {settled}}},
                {{"steps", {sky}}, {"effects", {darker, calm}}},
                {{"steps", {ground}}, {"effects", {bite}}}};
    json out = json::array();
    for (const json &effect : tones == Tones::Light ? std::vector{lit, settled, darker, firmer}
                                                    : std::vector{lit, bite, fog, calm})
        out.push_back({{"invert", true}, {"effects", {effect}}});
    return out;
}

/// With vignette, grain, frame and signature, for a photo of 24 megapixels.
std::string finishedTake(Tones tones)
{
    using nlohmann::json;
    json take = {{"format", "buttonhole-take"},
                 {"version", 12},
                 {"name", "Finished"},
                 {"grey", {{"on", true}, {"base", "luminance"}}},
                 {"tones", tonesOf(tones)},
                 {"finish",
                  {{{"id", 21}, {"kind", "vignette"}, {"amount", -0.4}},
                   {{"id", 22}, {"kind", "grain"}, {"amount", 0.3}},
                   {{"id", 23}, {"kind", "frame"}, {"width", 0.04}},
                   {{"id", 24}, {"kind", "signature"}, {"text", "Fernhollow Mill"}}}}};
    int id = 10;
    for (json &tone : take["tones"])
        tone["id"] = ++id;
    if (tones == Tones::Fades)
        take["keeps"] = {
            {{"name", "Kept"}, {"steps", {fade("round", {3000, 2000}, {4000, 2000})}}}};
    return writeTake("finished-" + std::to_string(int(tones)), take);
}

} // namespace

int main(int argc, char **argv)
{
    const int runs = argc > 1 ? std::atoi(argv[1]) : 5;
    const bool onlyFinish = argc > 2 && std::string(argv[2]) == "finish";
    const std::string out =
        (std::filesystem::temp_directory_path() / "buttonhole-bench-out.jpg").string();
    const std::string cli = BUTTONHOLE_CLI;
    for (const int mp : onlyFinish ? std::vector<int>{} : std::vector{6, 12, 24, 60, 100}) {
        const std::string photo = bench::makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", mp);
        const std::string size = std::to_string(mp) + " MP JPEG to JPEG, CLI, ";
        const Bar bar = mp == 24 ? Bar{1.4, 300} : mp == 100 ? Bar{1.5, 600} : Bar{};
        measure(size + "grey", photo, {cli, "render", photo, "-o", out, "--quiet"}, runs, {});
        measure(size + "grey and one soft keep", photo,
                {cli, "apply", photo, "--take", BUTTONHOLE_DEMO "/soft-keep.json", "-o", out,
                 "--quiet"},
                runs, bar);
    }
    const std::pair<const char *, Tones> finished[] = {
        {"vignette, grain, frame and signature", Tones::None},
        {"and four tones of light", Tones::Light},
        {"and four tones as set by hand, two of texture", Tones::Fades},
        {"and four tones everywhere, two of texture", Tones::Texture}};
    for (const auto &[title, tones] : finished) {
        const std::string photo = bench::makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", 24);
        measure(std::string("24 MP JPEG to JPEG, CLI, ") + title, photo,
                {cli, "apply", photo, "--take", finishedTake(tones), "-o", out, "--quiet"}, runs,
                {2.5, 450});
    }
    for (const int mp : onlyFinish ? std::vector<int>{} : std::vector{24, 60}) {
        const std::string photo = bench::makePhotoFile(BUTTONHOLE_DEMO "/wool-basket.jpg", mp);
        measure(std::to_string(mp) + " MP JPEG to JPEG, CLI, boxed ball with soft edge and spill",
                photo, {cli, "apply", photo, "--take", ballTake(mp, 1), "-o", out, "--quiet"}, runs,
                mp == 24 ? Bar{0, 600} : Bar{});
        if (mp == 24)
            measure("24 MP JPEG to JPEG, CLI, twelve such keeps", photo,
                    {cli, "apply", photo, "--take", ballTake(mp, 12), "-o", out, "--quiet"}, 1, {});
    }
    return 0;
}
