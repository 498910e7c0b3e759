// Measures boxes and clicks on the objects of bench/make_objects.py, beside OpenCV's grabCut given
// the same box. docs/quality.md keeps its tables.
//
//     object_quality FOLDER [--clicks] [--each]
#include "mark_play.h"
#include "subject/net_picture.h"
#include "subject/salient.h"
#include "subject/subject_solver.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <numeric>

using namespace buttonhole;
using namespace buttonhole::bench;

namespace
{

constexpr int kMostClicks = 15;
constexpr int kPlaces = 5;
constexpr double kUseless = 0.002; ///< IoU that a click should bring at least

/// What OpenCV's grabCut makes of a box, at the size at which it takes about as long as we do.
cv::Mat1f grabCutOf(const PhotoLevels &levels, const Rect &box, cv::Size size)
{
    constexpr int kLongEdge = 800;
    constexpr int kRounds = 5;
    const int level = levels.levelWithin(kLongEdge);
    const Rect area = levels.rectOf(level);
    const NetPicture seen = readNetPicture(
        levels, levels.photo().rect(), area.width() > area.height() ? area.width() : area.height());
    cv::Mat rgb(seen.height, seen.width, CV_8UC3, const_cast<uint8_t *>(seen.rgb.data()));
    cv::Mat bgr;
    cv::cvtColor(rgb, bgr, cv::COLOR_RGB2BGR);
    const double sx = double(bgr.cols) / size.width;
    const double sy = double(bgr.rows) / size.height;
    const cv::Rect inside = cv::Rect(cv::Point(int(box.x0 * sx), int(box.y0 * sy)),
                                     cv::Point(int(box.x1 * sx), int(box.y1 * sy))) &
                            cv::Rect(1, 1, bgr.cols - 2, bgr.rows - 2);
    cv::Mat labels;
    cv::Mat own;
    cv::Mat other;
    cv::setRNGSeed(1);
    cv::grabCut(bgr, labels, inside, own, other, kRounds, cv::GC_INIT_WITH_RECT);
    cv::Mat1f mask(cv::Mat((labels & 1) != 0) / 255.0);
    cv::resize(mask, mask, size, 0, 0, cv::INTER_LINEAR);
    return mask;
}

/// What the network for what stands out says of a box, and nothing else.
cv::Mat1f netOf(const PhotoLevels &levels, const Rect &box, cv::Size size, bool &isAnswer)
{
    const auto found = findSalient(levels, box);
    if (!found)
        return cv::Mat1f(cv::Mat1f::zeros(size));
    isAnswer = found->isAnswer;
    const Rect &area = found->area;
    const cv::Mat1f seen(found->inside.height(), found->inside.width(),
                         const_cast<float *>(found->inside.row(0)));
    cv::Mat1f out(cv::Mat1f::zeros(size));
    cv::Mat part = out(cv::Rect(area.x0, area.y0, area.width(), area.height()));
    cv::resize(seen, part, part.size(), 0, 0, cv::INTER_LINEAR);
    return out;
}

/// What was measured, by its name, a value for each picture.
using Columns = std::map<std::string, std::vector<double>>;

void boxes(const PhotoLevels &levels, const cv::Mat1f &matte, Columns &out)
{
    double ms = 0;
    const RegionAsk box{{}, looseBox(matte), 0};
    const auto iouOf = [&](bool asSubject) {
        return compare(solved(solverFor(levels, asSubject), box, ms), matte).iou;
    };
    out["1 box, Subject"].push_back(iouOf(true));
    out["9 box, Subject, ms"].push_back(ms);
    bool isAnswer = false;
    out["3 box, the net alone"].push_back(
        compare(netOf(levels, *box.box, matte.size(), isAnswer), matte).iou);
    out["3 of them taken as they are"].push_back(isAnswer);
    out["2 box, Region"].push_back(iouOf(false));
    out["3 box, grabCut"].push_back(compare(grabCutOf(levels, *box.box, matte.size()), matte).iou);
}

/// The best that Q and W offer for a click: the sizes that there are, and the next smaller one.
double bestSize(const Solve &solve, const PhotoPoint &at, const cv::Mat1f &matte)
{
    double best = 0;
    double ms = 0;
    for (int size = -1; size <= 3; ++size) {
        const float reach = float(size) * kReachPerSize;
        const RegionAsk ask{{{{at}, 4, false}}, {}, reach};
        best = std::max(best, compare(solved(solve, ask, ms), matte).iou);
    }
    return best;
}

void clicks(const PhotoLevels &levels, const cv::Mat1f &matte, Columns &out)
{
    double first = 0;
    double best = 0;
    double to90 = 0;
    double to95 = 0;
    double reached = 0;
    double useless = 0;
    double all = 0;
    for (const PhotoPoint &at : placesIn(matte, kPlaces)) {
        const auto ious = playClicks(solverFor(levels, true), matte, kMostClicks, at, 0);
        first += ious.front() / kPlaces;
        best += bestSize(solverFor(levels, true), at, matte) / kPlaces;
        to90 += std::min(clicksTo(0.9, ious), kMostClicks) / double(kPlaces);
        to95 += std::min(clicksTo(0.95, ious), kMostClicks) / double(kPlaces);
        reached += double(clicksTo(0.9, ious) <= kMostClicks) / kPlaces;
        for (size_t i = 1; i < ious.size() && ious[i - 1] < 0.95; ++i) {
            useless += ious[i] - ious[i - 1] < kUseless;
            all += 1;
        }
    }
    out["4 first click"].push_back(first);
    out["5 first click, best size"].push_back(best);
    out["6 clicks to 0.90"].push_back(to90);
    out["6 clicks to 0.95"].push_back(to95);
    out["7 0.90 reached"].push_back(reached);
    out["8 clicks that bring nothing"].push_back(all > 0 ? useless / all : 0);
}

void say(const std::string &name, std::vector<double> values, bool lessIsBetter)
{
    std::sort(values.begin(), values.end());
    if (lessIsBetter)
        std::reverse(values.begin(), values.end());
    const size_t n = values.size();
    const size_t tenth = std::max<size_t>(1, n / 10);
    const auto meanOf = [&](size_t count) {
        return std::accumulate(values.begin(), values.begin() + ptrdiff_t(count), 0.0) /
               double(count);
    };
    std::printf("| %s | %zu | %.3f | %.3f | %.3f |\n", name.c_str(), n, meanOf(n), values[n / 2],
                meanOf(tenth));
}

} // namespace

int main(int argc, char **argv)
{
    setenv("OMP_WAIT_POLICY", "passive", 0); // as the programs have it
    std::vector<std::string> files;
    bool playsClicks = false;
    bool saysEach = false;
    for (int i = 2; i < argc; ++i) {
        playsClicks = playsClicks || std::string(argv[i]) == "--clicks";
        saysEach = saysEach || std::string(argv[i]) == "--each";
    }
    if (argc < 2)
        return 2;
    for (const auto &entry : std::filesystem::directory_iterator(argv[1]))
        if (entry.path().extension() == ".jpg")
            files.push_back(entry.path().string());
    std::sort(files.begin(), files.end());
    Columns columns;
    for (const std::string &file : files) {
        const auto levels = PhotoLevels::load(file, {});
        if (!levels)
            return std::fprintf(stderr, "%s\n", sentence(levels.error()).c_str()), 1;
        const cv::Mat1f matte = readMatteFile(file.substr(0, file.rfind('.')) + ".matte.png");
        boxes(**levels, matte, columns);
        if (playsClicks)
            clicks(**levels, matte, columns);
        if (!saysEach)
            continue;
        std::printf("%-40s", std::filesystem::path(file).stem().c_str());
        for (const auto &[name, values] : columns)
            std::printf("  %s %.3f", name.c_str() + 2, values.back());
        std::printf("\n");
        std::fflush(stdout);
    }
    std::printf(
        "\n| %s | pictures | mean | median | worst tenth |\n| --- | --- | --- | --- | --- |\n",
        std::filesystem::path(argv[1]).filename().c_str());
    for (const auto &[name, values] : columns)
        say(name.substr(2), values, name.find("clicks") != std::string::npos || name[0] == '9');
    const auto &own = columns["1 box, Subject"];
    const auto &other = columns["3 box, grabCut"];
    int above = 0;
    for (size_t i = 0; i < own.size(); ++i)
        above += own[i] >= other[i];
    std::printf("\nA box does no worse than grabCut on %d of %zu.\n", above, own.size());
    return 0;
}
