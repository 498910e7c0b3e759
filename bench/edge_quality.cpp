// How near soft edges come to the exact mattes: a mask that is right to 6 px, before and after;
// and the best that a Gaussian feather does. docs/quality.md keeps its table.
#include "mask_score.h"
#include "matting/soft_edge.h"
#include "segment/look_frame.h"

#include <opencv2/imgproc.hpp>

#include <chrono>
#include <cstdio>

using namespace buttonhole;
using namespace buttonhole::bench;

namespace
{

/// The matte's edge moved by -6 to 6 px, smoothly along it: a hand's or a solver's error.
cv::Mat1f roughened(const cv::Mat1f &matte)
{
    constexpr float kOffPx = 6;
    cv::Mat1f in;
    cv::Mat1f out;
    cv::distanceTransform(matte > 0.5F, in, cv::DIST_L2, cv::DIST_MASK_PRECISE);
    cv::distanceTransform(matte <= 0.5F, out, cv::DIST_L2, cv::DIST_MASK_PRECISE);
    cv::RNG random(7);
    cv::Mat1f noise(matte.rows / 20, matte.cols / 20);
    random.fill(noise, cv::RNG::UNIFORM, -1.2, 1.2); // cut off below
    cv::resize(noise, noise, matte.size(), 0, 0, cv::INTER_CUBIC);
    noise = cv::max(cv::min(noise, 1.0F), -1.0F);
    return cv::Mat1f((in - out + kOffPx * noise) > 0) / 255;
}

double bestFeather(const cv::Mat1f &rough, const cv::Mat1f &matte)
{
    double best = compare(rough, matte).bandError;
    for (const double sigma : {1.0, 2.0, 3.0, 4.0, 6.0, 8.0}) {
        cv::Mat1f soft;
        cv::GaussianBlur(rough, soft, {0, 0}, sigma);
        best = std::min(best, compare(soft, matte).bandError);
    }
    return best;
}

/// Where one would paint with the fuzz brush: where much beyond the usual band is half covered.
cv::Mat1b fuzzOf(const cv::Mat1f &matte)
{
    constexpr float kBeyondPx = 5;
    constexpr float kUpToPx = 25;
    constexpr int kBrushPx = 61;
    constexpr float kMuch = 0.4F;
    cv::Mat1f away;
    cv::distanceTransform(matte <= 0.5F, away, cv::DIST_L2, cv::DIST_MASK_PRECISE);
    cv::Mat1f ring = cv::Mat1f((away > kBeyondPx) & (away < kUpToPx)) / 255;
    cv::Mat1f half = ring.mul(cv::Mat1f((matte > 0.04F) & (matte < 0.96F)) / 255);
    cv::boxFilter(half, half, CV_32F, {kBrushPx, kBrushPx});
    cv::boxFilter(ring, ring, CV_32F, {kBrushPx, kBrushPx});
    return (half > kMuch * ring) & (ring > 0.02F);
}

void fromRoughEdge(const cv::Mat3f &lab, const cv::Mat1f &matte, const std::string &what,
                   const cv::Mat1b &fuzz)
{
    const cv::Mat1f rough = roughened(matte);
    const auto start = std::chrono::steady_clock::now();
    const cv::Mat1f soft = softenEdge(lab, rough, {{6, false, !fuzz.empty()}, fuzz, {}, {}});
    const double ms =
        std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    const double feather = bestFeather(rough, matte);
    const Score after = compare(soft, matte);
    std::printf("| %s | %.3f | %.3f | %.3f | %.2f | %.3f | %.0f |\n", what.c_str(),
                compare(rough, matte).bandError, feather, after.bandError,
                after.bandError / feather, after.wideBandError, ms);
    std::fflush(stdout);
}

void fromRoughEdges()
{
    constexpr int kSomeFuzzPx = 5000; // less changes nothing in the table
    std::printf("| edge right to 6 px | before | best feather | soft edge | of the feather's | "
                "within 20 px | ms |\n| --- | --- | --- | --- | --- | --- | --- |\n");
    for (const auto &[photo, name] : demoSubjects()) {
        const auto levels = loadDemo(photo);
        const cv::Mat1f matte = readMatte(photo + "." + name + ".matte.png");
        const cv::Mat3f lab = readLab(*levels, 0, levels->photo().rect());
        const std::string what = photo + ", " + name;
        fromRoughEdge(lab, matte, what, {});
        const cv::Mat1b fuzz = fuzzOf(matte);
        if (cv::countNonZero(fuzz & (matte > 0.04F) & (matte < 0.96F)) > kSomeFuzzPx)
            fromRoughEdge(lab, matte, what + ", its fuzz marked", fuzz);
    }
}

/// A mask whose edge is right, but hard: what solvers come near to.
void fromHardEdges()
{
    std::printf(
        "\n| edge right, but hard | before | feather of 1 px | soft edge, 3 px | by sharpness |\n"
        "| --- | --- | --- | --- | --- |\n");
    for (const auto &[photo, name] : demoSubjects()) {
        const auto levels = loadDemo(photo);
        const cv::Mat1f matte = readMatte(photo + "." + name + ".matte.png");
        const cv::Mat1f hard = cv::Mat1f(matte > 0.5F) / 255;
        const cv::Mat3f lab = readLab(*levels, 0, levels->photo().rect());
        const auto errorWith = [&](const EdgeBand &band) {
            return compare(softenEdge(lab, hard, {band, {}, {}, {}}), matte).bandError;
        };
        cv::Mat1f feathered;
        cv::GaussianBlur(hard, feathered, {}, 1);
        std::printf("| %s, %s | %.3f | %.3f | %.3f | %.3f |\n", photo.c_str(), name.c_str(),
                    compare(hard, matte).bandError, compare(feathered, matte).bandError,
                    errorWith({3, false, false}), errorWith({0, true, false}));
        std::fflush(stdout);
    }
}

} // namespace

int main()
{
    fromRoughEdges();
    fromHardEdges();
    return 0;
}
