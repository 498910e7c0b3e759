// A photo through buttonhole-cli, beside the codec alone: decode and encode of the same file by
// libjpeg-turbo in the same run. Prints medians, the ratio and the peak memory of the process.
#include "io/file.h"
#include "io/jpeg.h"
#include "make_photo.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <numeric>

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

double median(std::vector<double> values)
{
    std::sort(values.begin(), values.end());
    return values[values.size() / 2];
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

void measure(const char *title, const std::string &photo, std::vector<std::string> words, int runs)
{
    std::vector<double> decode;
    std::vector<double> encode;
    std::vector<double> whole;
    std::vector<double> ratios;
    long peak = 0;
    for (int i = 0; i < runs; ++i) {
        const Codec codec = codecAlone(photo);
        const auto [seconds, kilobytes] = runOnce(words);
        decode.push_back(codec.decode);
        encode.push_back(codec.encode);
        whole.push_back(seconds);
        ratios.push_back(seconds / (codec.decode + codec.encode));
        peak = std::max(peak, kilobytes);
    }
    const auto [least, most] = std::minmax_element(ratios.begin(), ratios.end());
    std::printf("%-34s decode %6.0f ms  encode %6.0f ms  cli %6.0f ms  ratio %.2f (%.2f-%.2f)  "
                "peak %ld MB\n",
                title, median(decode) * 1e3, median(encode) * 1e3, median(whole) * 1e3,
                median(ratios), *least, *most, peak / 1024);
}

} // namespace

int main(int argc, char **argv)
{
    const int runs = argc > 1 ? std::atoi(argv[1]) : 7;
    const std::string out =
        (std::filesystem::temp_directory_path() / "buttonhole-bench-out.jpg").string();
    const std::string cli = BUTTONHOLE_CLI;
    for (const double megapixels : {6.0, 24.0, 60.0}) {
        const std::string photo = bench::makePhotoFile(BUTTONHOLE_DEMO "/spools.jpg", megapixels);
        const std::string title = std::to_string(int(megapixels)) + " MP";
        measure((title + " grey").c_str(), photo, {cli, "render", photo, "-o", out, "--quiet"},
                runs);
        measure((title + " grey + soft keep").c_str(), photo,
                {cli, "apply", photo, "--take", BUTTONHOLE_DEMO "/soft-keep.json", "-o", out,
                 "--quiet"},
                runs);
    }
    return 0;
}
