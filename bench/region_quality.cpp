// Plays marks on the demo photos through the solver that the window uses, against the exact mattes:
// scripted marks, a box, and a user who clicks in the middle of the largest error. docs/quality.md
// keeps its tables.
#include "mark_play.h"
#include "mask/outline_step.h"
#include "mask/stroke.h"
#include "mask_score.h"
#include "matting/soft_edge.h"
#include "segment/edge_path.h"
#include "segment/look_frame.h"

#include <opencv2/imgproc.hpp>

#include <chrono>
#include <cstdio>
#include <numeric>

using namespace buttonhole;
using namespace buttonhole::bench;

namespace
{

constexpr int kMostClicks = 20;
constexpr int kStrokes = 3;

struct Subject {
    const char *photo;
    const char *matte;
    std::vector<RegionMark> marks{}; ///< at most three, after a loose box
    std::vector<RegionMark> alone{}; ///< at most three, without one
};

RegionMark stroke(std::vector<PhotoPoint> points, bool isLeave = false)
{
    return {std::move(points), 6, isLeave};
}

std::vector<Subject> subjects()
{
    const RegionMark roundShuttle =
        stroke({{337, 756},  {347, 746},  {392, 734},  {491, 723},  {618, 719},  {810, 719},
                {937, 727},  {1065, 740}, {1180, 757}, {1224, 775}, {1234, 785}, {1224, 795},
                {1180, 809}, {1065, 835}, {937, 843},  {810, 845},  {682, 841},  {555, 832},
                {459, 809},  {392, 782},  {347, 766},  {337, 756}},
               true);
    return {
        {"spools",
         "spool",
         {stroke({{1250, 714}, {1330, 716}, {1400, 718}}),
          stroke({{1260, 708}, {1340, 708}, {1400, 710}, {1410, 718}})}},
        {"wool-basket",
         "teal-ball",
         {stroke({{1708, 770}, {1716, 800}, {1722, 830}}, true),
          stroke({{1140, 650}, {1170, 600}, {1230, 550}, {1255, 522}}, true)}},
        {"washing-line", "magenta-cloth", {}},
        {"loom",
         "shuttle",
         {stroke({{358, 764}, {420, 757}, {800, 790}, {1190, 787}, {1212, 789}}), roundShuttle,
          stroke({{351, 763}, {370, 758}, {385, 756}})},
         {stroke({{352, 759},
                  {390, 758},
                  {500, 762},
                  {620, 738},
                  {780, 742},
                  {940, 750},
                  {1000, 780},
                  {800, 810},
                  {600, 790},
                  {800, 780},
                  {1100, 775},
                  {1185, 785},
                  {1212, 786}}),
          roundShuttle}},
        {"mill-pond", "boat", {}},
    };
}

std::string clicksOrMore(int clicks)
{
    return clicks > kMostClicks ? "> " + std::to_string(kMostClicks) : std::to_string(clicks);
}

void clickRow(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte,
              bool asSubject)
{
    const auto ious = playClicks(solverFor(levels, asSubject), matte, kMostClicks, {}, 0);
    std::printf(
        "| %s, %s: %s | %.3f | %s | %s | %.3f |\n", subject.photo, subject.matte,
        asSubject ? "Subject" : "Region", ious.front(), clicksOrMore(clicksTo(0.9, ious)).c_str(),
        clicksOrMore(clicksTo(0.95, ious)).c_str(), *std::max_element(ious.begin(), ious.end()));
    std::fflush(stdout);
}

void placesRow(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    constexpr int kPlaces = 12;
    std::vector<double> ious;
    double sum = 0;
    for (const PhotoPoint &at : placesIn(matte, kPlaces)) {
        ious.push_back(playClicks(solverFor(levels, false), matte, 1, at, 0).front());
        sum += ious.back();
    }
    std::sort(ious.begin(), ious.end());
    std::printf("| %s, %s | %.3f | %.3f | %.3f | %.3f |\n", subject.photo, subject.matte,
                ious.front(), ious[kPlaces / 2], ious.back(), sum / kPlaces);
    std::fflush(stdout);
}

/// Ten clicks from each of six first places, by a hand that misses the middle.
void walksRow(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    constexpr int kPlaces = 6;
    constexpr int kClicks = 10;
    constexpr float kAside = 0.6F;
    constexpr double kWorse = 0.03;
    double to90 = 0;
    double to95 = 0;
    double last = 0;
    int worse = 0;
    for (const PhotoPoint &at : placesIn(matte, kPlaces)) {
        const auto ious = playClicks(solverFor(levels, false), matte, kClicks, at, kAside);
        to90 += clicksTo(0.9, ious);
        to95 += clicksTo(0.95, ious);
        last += ious.back();
        for (size_t i = 1; i < ious.size(); ++i)
            worse += ious[i] < ious[i - 1] - kWorse;
    }
    std::printf("| %s, %s | %.1f | %.1f | %.3f | %d of %d |\n", subject.photo, subject.matte,
                to90 / kPlaces, to95 / kPlaces, last / kPlaces, worse, kPlaces * (kClicks - 1));
    std::fflush(stdout);
}

void row(const Subject &subject, const char *how, const cv::Mat1f &mask, const cv::Mat1f &matte,
         double ms)
{
    const Score score = compare(mask, matte);
    std::printf("| %s, %s: Region, %s | %.3f | %.3f | %.4f | %.3f | %.0f |\n", subject.photo,
                subject.matte, how, score.iou, score.softIou, score.error, score.bandError, ms);
    std::fflush(stdout);
}

/// The same marks by other hands: each place moved by up to 5 px; then a click where it is most
/// wrong.
void handsRow(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    if (subject.alone.empty())
        return;
    constexpr int kHands = 10;
    constexpr float kAsidePx = 5;
    const Solve solve = solverFor(levels, false);
    cv::RNG hand(5);
    std::vector<double> before;
    std::vector<double> after;
    for (int i = 0; i < kHands; ++i) {
        RegionAsk ask{subject.alone, {}, 0};
        for (RegionMark &mark : ask.marks)
            for (PhotoPoint &p : mark.points)
                p = {p.x + hand.uniform(-kAsidePx, kAsidePx),
                     p.y + hand.uniform(-kAsidePx, kAsidePx)};
        double ms = 0;
        const cv::Mat1f mask = solved(solve, ask, ms);
        before.push_back(compare(mask, matte).iou);
        const WorstError worst = worstError(mask, matte);
        ask.marks.push_back(clickOn(worst));
        after.push_back(compare(solved(solve, ask, ms), matte).iou);
    }
    const auto say = [](const std::vector<double> &ious) {
        const auto [least, most] = std::minmax_element(ious.begin(), ious.end());
        const double sum = std::accumulate(ious.begin(), ious.end(), 0.0);
        std::printf(" %.3f (%.3f to %.3f) |", sum / double(ious.size()), *least, *most);
    };
    std::printf("| %s, %s |", subject.photo, subject.matte);
    say(before);
    say(after);
    std::printf("\n");
    std::fflush(stdout);
}

void markRows(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    const Solve solve = solverFor(levels, false);
    double ms = 0;
    const RegionAsk box{{}, looseBox(matte), 0};
    const cv::Mat1f boxed = solved(solve, box, ms);
    row(subject, "one loose box", boxed, matte, ms);
    const auto play = [&](RegionAsk ask, const std::vector<RegionMark> &marks, const char *start) {
        for (const RegionMark &mark : marks) {
            ask.marks.push_back(mark);
            const size_t n = ask.marks.size();
            const std::string how = start + std::to_string(n) + (n == 1 ? " mark" : " marks");
            const cv::Mat1f mask = solved(solve, ask, ms);
            row(subject, how.c_str(), mask, matte, ms);
        }
    };
    play(box, subject.marks, "the box and ");
    play({}, subject.alone, "no box, ");
    const auto start = std::chrono::steady_clock::now();
    const cv::Mat1f soft = softenEdge(readLab(levels, 0, levels.photo().rect()), boxed,
                                      {{0, true, false}, {}, {}, {}});
    row(subject, "the box, soft edge", soft, matte, msSince(start));
}

/// A stroke just inside the edge, by a hand that jitters by 15 px. Each begins elsewhere, jitters
/// otherwise, and the last goes the other way round.
std::vector<StrokePoint> edgePath(const cv::Mat1f &matte, float insidePx, int which)
{
    constexpr double kJitterPx = 15;
    constexpr size_t kEvery = 12; // px along the edge between points
    cv::Mat1f depth;
    cv::distanceTransform(matte > 0.5F, depth, cv::DIST_L2, cv::DIST_MASK_PRECISE);
    double deepest = 0;
    cv::minMaxLoc(depth, nullptr, &deepest);
    const cv::Mat1b core = depth > std::min(double(insidePx), 0.8 * deepest);
    std::vector<std::vector<cv::Point>> contours;
    cv::findContours(core, contours, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
    std::vector<cv::Point> &along = *std::max_element(
        contours.begin(), contours.end(), [](auto &a, auto &b) { return a.size() < b.size(); });
    std::rotate(along.begin(), along.begin() + which * int(along.size()) / kStrokes, along.end());
    if (which == kStrokes - 1)
        std::reverse(along.begin(), along.end());
    std::vector<StrokePoint> path;
    for (size_t i = 0; i < along.size(); i += kEvery) {
        const double t = double(i) + 300 * which;
        path.push_back({float(along[i].x + 0.5 + kJitterPx * std::sin(t / 23) * std::cos(t / 71)),
                        float(along[i].y + 0.5 + kJitterPx * std::cos(t / 29) * std::sin(t / 53)),
                        1});
    }
    return path;
}

struct Painted {
    cv::Mat1f mask;
    double msPerPoint = 0;
};

Painted painted(const PhotoLevels &levels, const std::vector<StrokePoint> &path, const Tip &tip)
{
    Stroke stroke;
    stroke.tip = tip;
    BrushPlanes planes(levels.photo().width, levels.photo().height);
    const auto start = std::chrono::steady_clock::now();
    StrokePainter painter(planes, stroke, &levels);
    for (const StrokePoint &point : path)
        (void)painter.addPoint(point);
    (void)painter.finish();
    return {toMat(planes.lo), msSince(start) / double(path.size())};
}

void holdRow(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte,
             float sizePx)
{
    Tip tip{sizePx, 0, 1, 1, PressureSteers::Nothing};
    const cv::Mat1f inside = cv::Mat1f(matte > 0.5F) / 255;
    const auto hit = [&](const Painted &p) { return p.mask.dot(inside); };
    const auto over = [&](const Painted &p) { return cv::sum(p.mask)[0] - hit(p); };
    double beyond = 0;
    double missed = 0;
    double most[2] = {};
    double ms[2] = {};
    for (int which = 0; which < kStrokes; ++which) {
        const auto path = edgePath(matte, tip.sizePx / 4, which);
        tip.edgeHold = 0;
        const Painted plain = painted(levels, path, tip);
        tip.edgeHold = 0.5F;
        const Painted held = painted(levels, path, tip);
        const double share = over(held) / over(plain);
        const double lost = 100 * (1 - hit(held) / hit(plain));
        beyond += share / kStrokes;
        missed += lost / kStrokes;
        most[0] = std::max(most[0], share);
        most[1] = std::max(most[1], lost);
        ms[0] += plain.msPerPoint / kStrokes;
        ms[1] += held.msPerPoint / kStrokes;
    }
    std::printf("| %s, %s | %.0f px | %.3f (%.3f) | %.2f %% (%.2f) | %.1f (plain %.1f) |\n",
                subject.photo, subject.matte, double(sizePx), beyond, most[0], missed, most[1],
                ms[1], ms[0]);
    std::fflush(stdout);
}

void holdRows(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    for (const float sizePx : {80.0F, 90.0F, 100.0F, 110.0F, 120.0F})
        holdRow(subject, levels, matte, sizePx);
}

double iouOf(const std::vector<PhotoPoint> &points, const cv::Mat1f &matte)
{
    std::vector<uint16_t> filled(matte.total());
    fillPolygon(points, 0, {0, 0, matte.cols, matte.rows}, filled.data());
    cv::Mat1f mask;
    cv::Mat(matte.rows, matte.cols, CV_16UC1, filled.data()).convertTo(mask, CV_32F, 1.0 / 65535);
    return compare(mask, matte).iou;
}

/// An outline through a few places on the true edge, hugging the edge between them; then by a hand
/// that is off by up to 4 px. As in the window, all but the first may move to
/// the edge.
void outlineRow(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    constexpr size_t kMostPlaces = 14;
    std::vector<std::vector<cv::Point>> contours;
    cv::findContours(matte > 0.5F, contours, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
    const auto longest = std::max_element(contours.begin(), contours.end(),
                                          [](auto &a, auto &b) { return a.size() < b.size(); });
    std::vector<cv::Point> clicks;
    for (double within = 2; clicks.empty() || clicks.size() > kMostPlaces; within *= 1.1)
        cv::approxPolyDP(*longest, clicks, within, true);
    std::printf("| %s, %s | %zu |", subject.photo, subject.matte, clicks.size());
    double ms = 0;
    for (const float offPx : {0.0F, 4.0F}) {
        cv::RNG hand(9);
        std::vector<PhotoPoint> straight;
        for (const cv::Point &at : clicks)
            straight.push_back({float(at.x) + 0.5F + hand.uniform(-offPx, offPx),
                                float(at.y) + 0.5F + hand.uniform(-offPx, offPx)});
        std::vector<PhotoPoint> hugging;
        for (size_t i = 0; i < straight.size(); ++i) {
            const auto start = std::chrono::steady_clock::now();
            const EdgePath path(levels, i == 0 ? straight[0] : hugging.back(), 1);
            ms = std::max(ms, msSince(start));
            const bool closes = i + 1 == straight.size();
            const auto part =
                path.to(straight[closes ? 0 : i + 1], closes ? 0 : EdgePath::kMissedPx);
            hugging.insert(hugging.end(), part.begin(), part.end());
        }
        std::printf(" %.3f | %.3f |", iouOf(hugging, matte), iouOf(straight, matte));
    }
    std::printf(" %.0f |\n", ms);
    std::fflush(stdout);
}

void clickRows(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    for (const bool asSubject : {false, true})
        clickRow(subject, levels, matte, asSubject);
}

struct Table {
    const char *head;
    void (*rows)(const Subject &, const PhotoLevels &, const cv::Mat1f &);
};

constexpr Table kTables[] = {
    {"| moves | IoU | of soft values | error | error in the band | ms |\n"
     "| --- | --- | --- | --- | --- | --- |\n",
     markRows},
    {"\n| marks without a box by ten hands | IoU (least to most) | and one click more |\n"
     "| --- | --- | --- |\n",
     handsRow},
    {"\n| clicks in the middle of the largest error | IoU after the first | to 0.90 | to 0.95 | "
     "best |\n| --- | --- | --- | --- | --- |\n",
     clickRows},
    {"\n| one click at each of 12 places | least IoU | median | most | mean |\n"
     "| --- | --- | --- | --- | --- |\n",
     placesRow},
    {"\n| 10 clicks from each of 6 places, beside the middle | to 0.90 | to 0.95 | IoU at the end "
     "| clicks that made it worse |\n| --- | --- | --- | --- | --- |\n",
     walksRow},
    {"\n| 3 brush strokes along the edge, 15 px of jitter | tip | overshoot, held / plain (most) "
     "| missed inside (most) | ms a point |\n| --- | --- | --- | --- | --- |\n",
     holdRows},
    {"\n| outline through places on the edge | clicks | IoU hugging | IoU straight | off by 4 px, "
     "hugging | straight | longest look, ms |\n| --- | --- | --- | --- | --- | --- | --- |\n",
     outlineRow},
};

} // namespace

int main()
{
    for (const Table &table : kTables) {
        std::printf("%s", table.head);
        for (const Subject &subject : subjects())
            table.rows(subject, *loadDemo(subject.photo),
                       readMatte(std::string(subject.photo) + "." + subject.matte + ".matte.png"));
    }
    return 0;
}
