// Plays marks on the demo photos through the solver that the window uses, against the exact mattes:
// scripted marks, a box, and a user who clicks in the middle of the largest error. docs/quality.md
// keeps its tables.
#include "mask_score.h"
#include "segment/region_solver.h"

#include <opencv2/imgproc.hpp>

#include <chrono>
#include <cstdio>

using namespace buttonhole;
using namespace buttonhole::bench;

namespace
{

constexpr int kMostClicks = 20;

struct Subject {
    const char *photo;
    const char *matte;
    std::vector<RegionMark> marks; ///< at most three
};

RegionMark stroke(std::vector<PhotoPoint> points, bool isLeave = false)
{
    return {std::move(points), 6, isLeave};
}

std::vector<Subject> subjects()
{
    return {
        {"spools",
         "spool",
         {stroke({{1326, 760}, {1326, 930}}), stroke({{1245, 714}, {1405, 714}})}},
        {"wool-basket",
         "teal-ball",
         {stroke({{1200, 640}, {1330, 560}, {1500, 600}, {1600, 700}, {1500, 800}, {1250, 800}}),
          stroke({{1500, 840},
                  {1545, 980},
                  {1553, 1120},
                  {1568, 1200},
                  {1570, 1300},
                  {1585, 1370},
                  {1612, 1430},
                  {1650, 1490},
                  {1700, 1525},
                  {1760, 1555},
                  {1838, 1592}})}},
        {"washing-line", "magenta-cloth", {stroke({{760, 480}, {1120, 800}, {800, 1200}})}},
        {"loom",
         "shuttle",
         {stroke({{370, 779}, {600, 800}, {1000, 800}, {1200, 783}}),
          stroke({{560, 752}, {980, 754}}), stroke({{380, 850}, {1150, 850}}, true)}},
        {"mill-pond",
         "boat",
         {stroke({{1466, 952}}), stroke({{300, 1110}, {1500, 1150}}, true),
          stroke({{230, 835}, {700, 840}, {1400, 850}, {1600, 820}})}},
    };
}

double msSince(std::chrono::steady_clock::time_point start)
{
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start)
        .count();
}

cv::Mat1f solved(RegionSolver &solver, const PhotoLevels &levels, const RegionAsk &ask, double &ms)
{
    const auto start = std::chrono::steady_clock::now();
    const auto plane = solver.solve(levels, ask);
    ms = msSince(start);
    if (!plane)
        std::exit((std::fprintf(stderr, "%s\n", sentence(plane.error()).c_str()), 1));
    return toMat(*plane);
}

/// The middle of the largest error: a mark that keeps what is missing or leaves what is too much.
RegionMark worstError(const cv::Mat1f &mask, const cv::Mat1f &matte)
{
    RegionMark mark;
    double deepest = 0;
    for (const bool isLeave : {false, true}) {
        const cv::Mat1b wrong =
            isLeave ? (mask > 0.5F) & (matte < 0.5F) : (mask < 0.5F) & (matte > 0.5F);
        cv::Mat1b framed;
        cv::copyMakeBorder(wrong, framed, 1, 1, 1, 1, cv::BORDER_CONSTANT, 0);
        cv::Mat1f depth;
        cv::distanceTransform(framed, depth, cv::DIST_L2, cv::DIST_MASK_PRECISE);
        double most = 0;
        cv::Point at;
        cv::minMaxLoc(depth, nullptr, &most, nullptr, &at);
        if (most <= deepest)
            continue;
        deepest = most;
        const float radius = std::clamp(float(most), 1.0F, 8.0F);
        mark = {{{float(at.x) - 0.5F, float(at.y) - 0.5F}}, radius, isLeave};
    }
    return mark;
}

std::string clicksOrMore(int clicks)
{
    return clicks > kMostClicks ? "> " + std::to_string(kMostClicks) : std::to_string(clicks);
}

void clickLoop(const Subject &subject, const PhotoLevels &levels, const cv::Mat1f &matte)
{
    RegionSolver solver;
    RegionAsk ask;
    cv::Mat1f mask(matte.size(), 0.0F);
    int to90 = kMostClicks + 1;
    int to95 = kMostClicks + 1;
    double first = 0;
    double best = 0;
    for (int clicks = 1; clicks <= kMostClicks && to95 > kMostClicks; ++clicks) {
        ask.marks.push_back(worstError(mask, matte));
        double ms = 0;
        mask = solved(solver, levels, ask, ms);
        const double iou = compare(mask, matte).iou;
        first = clicks == 1 ? iou : first;
        best = std::max(best, iou);
        if (iou >= 0.9)
            to90 = std::min(to90, clicks);
        if (iou >= 0.95)
            to95 = std::min(to95, clicks);
    }
    std::printf("| %s, %s | %.3f | %s | %s | %.3f |\n", subject.photo, subject.matte, first,
                clicksOrMore(to90).c_str(), clicksOrMore(to95).c_str(), best);
    std::fflush(stdout);
}

void row(const Subject &subject, const char *how, const cv::Mat1f &mask, const cv::Mat1f &matte,
         double ms)
{
    const Score score = compare(mask, matte);
    std::printf("| %s, %s: Region, %s | %.3f | %.3f | %.4f | %.3f | %.0f |\n", subject.photo,
                subject.matte, how, score.iou, score.f, score.error, score.bandError, ms);
    std::fflush(stdout);
}

Rect looseBox(const cv::Mat1f &matte)
{
    const cv::Rect box = cv::boundingRect(cv::Mat1b(matte > 0.5F));
    const int dx = box.width / 10;
    const int dy = box.height / 10;
    return intersected({0, 0, matte.cols, matte.rows},
                       {box.x - dx, box.y - dy, box.br().x + dx, box.br().y + dy});
}

} // namespace

int main()
{
    const std::string folder = BUTTONHOLE_DEMO "/";
    std::printf("| moves | IoU | F | error | error in the band | ms |\n"
                "| --- | --- | --- | --- | --- | --- |\n");
    for (const bool clicks : {false, true}) {
        if (clicks)
            std::printf("\n| clicks in the middle of the largest error | IoU after the first | to "
                        "0.90 | to 0.95 | best |\n| --- | --- | --- | --- | --- |\n");
        for (const Subject &subject : subjects()) {
            const auto levels = PhotoLevels::load(folder + subject.photo + ".jpg");
            if (!levels)
                return std::fprintf(stderr, "%s\n", sentence(levels.error()).c_str()), 1;
            const cv::Mat1f matte =
                readMatte(std::string(subject.photo) + "." + subject.matte + ".matte.png");
            if (clicks) {
                clickLoop(subject, **levels, matte);
                continue;
            }
            RegionSolver solver;
            double ms = 0;
            for (size_t n = 1; n <= subject.marks.size(); ++n) {
                const RegionAsk ask{
                    {subject.marks.begin(), subject.marks.begin() + ptrdiff_t(n)}, {}, 0};
                const std::string how = std::to_string(n) + (n == 1 ? " mark" : " marks");
                const cv::Mat1f mask = solved(solver, **levels, ask, ms);
                row(subject, how.c_str(), mask, matte, ms);
            }
            const RegionAsk box{{}, looseBox(matte), 0};
            const cv::Mat1f boxed = solved(solver, **levels, box, ms);
            row(subject, "one loose box", boxed, matte, ms);
        }
    }
    return 0;
}
