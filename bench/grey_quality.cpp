// How much of a photo's colour contrast each way of greying keeps: the table of docs/quality.md.
#include "render/auto_grey.h"
#include "render/render.h"
#include "tone/grey_mixer.h"

#include "io/photo.h"

#include <opencv2/photo.hpp>

#include <cstdio>
#include <filesystem>

using namespace buttonhole;

namespace
{

/// CIE L* of what OpenCV's cv::decolor makes of each colour: it is given the same reduced picture,
/// as sRGB codes.
std::vector<float> decolorLightness(const PhotoLevels &levels, const ColourPairs &pairs)
{
    const auto count = int(pairs.count);
    // The grid of samplePairs(): its long edge is 64.
    const Rect full = levels.rectOf(0);
    const int width = full.x1 >= full.y1 ? 64 : count / 64;
    cv::Mat picture(count / width, width, CV_8UC3);
    const Profile &srgb = Profile::srgb();
    const Matrix3 toSrgb = inverse(srgb.toXyz()) * levels.photo().profile.toXyz();
    for (int i = 0; i < count; ++i) {
        const auto at = size_t(i);
        const Vector3 rgb = toSrgb * Vector3{pairs.r[at], pairs.g[at], pairs.b[at]};
        for (size_t c = 0; c < 3; ++c) {
            const float padded[64] = {float(rgb[c])};
            uint16_t codes[64];
            encodeRow(srgb, c, 8, padded, 1, codes);
            picture.data[3 * i + 2 - int(c)] = uint8_t(codes[0]); // BGR
        }
    }
    cv::Mat grey;
    cv::Mat boosted;
    cv::decolor(picture, grey, boosted);
    std::vector<float> out(pairs.count);
    for (int i = 0; i < count; ++i)
        out[size_t(i)] = toCieLightness(srgb.toLinear(0)[size_t(grey.data[i]) * 257]);
    return out;
}

} // namespace

int main()
{
    std::printf("| photo | luminance | cv::decolor | Auto |\n| --- | --- | --- | --- |\n");
    double sums[3] = {};
    int photos = 0;
    bool holds = true;
    std::vector<std::filesystem::path> files;
    for (const auto &entry : std::filesystem::directory_iterator(BUTTONHOLE_DEMO))
        if (entry.path().extension() == ".jpg")
            files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    for (const auto &file : files) {
        const auto levels = PhotoLevels::load(file.string());
        if (!levels)
            return 1;
        const ColourPairs pairs = samplePairs(**levels, nullptr);
        const auto score = [&](const std::vector<float> &grey) {
            return colourContrastRatio(pairs, grey);
        };
        const double scores[3] = {
            score(greyLightness(**levels, pairs, {})), score(decolorLightness(**levels, pairs)),
            score(greyLightness(**levels, pairs, findAutoMix(**levels, makeTake())))};
        std::printf("| %s | %.3f | %.3f | %.3f |\n", file.stem().c_str(), scores[0], scores[1],
                    scores[2]);
        for (int i = 0; i < 3; ++i)
            sums[i] += scores[i];
        ++photos;
        holds &= scores[2] > scores[0];
    }
    std::printf("| **mean** | %.3f | %.3f | %.3f |\n", sums[0] / photos, sums[1] / photos,
                sums[2] / photos);
    return holds && sums[2] > sums[1] ? 0 : 1;
}
