#include "mark_play.h"

#include "subject/subject_solver.h"

#include <opencv2/imgproc.hpp>

#include <cstdio>

namespace buttonhole::bench
{

double msSince(std::chrono::steady_clock::time_point start)
{
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start)
        .count();
}

Solve solverFor(const PhotoLevels &levels, bool asSubject)
{
    if (asSubject)
        return [&levels, solver = std::make_shared<SubjectSolver>()](const RegionAsk &ask) {
            return solver->solve(levels, ask, {});
        };
    return [&levels, solver = std::make_shared<RegionSolver>()](const RegionAsk &ask) {
        return solver->solve(levels, ask);
    };
}

cv::Mat1f solved(const Solve &solve, const RegionAsk &ask, double &ms)
{
    const auto start = std::chrono::steady_clock::now();
    const auto plane = solve(ask);
    ms = msSince(start);
    if (!plane)
        std::exit((std::fprintf(stderr, "%s\n", sentence(plane.error()).c_str()), 1));
    return toMat(*plane);
}

RegionMark clickOn(const WorstError &worst)
{
    return {{worst.at}, std::clamp(float(worst.radiusPx), 1.0F, 8.0F), worst.isTooMuch};
}

std::vector<double> playClicks(const Solve &solve, const cv::Mat1f &matte, int most,
                               std::optional<PhotoPoint> first, float aside)
{
    RegionAsk ask;
    cv::Mat1f mask(matte.size(), 0.0F);
    std::vector<double> ious;
    cv::RNG hand(7);
    while (int(ious.size()) < most && (ious.empty() || ious.back() < 1)) {
        WorstError worst = worstError(mask, matte);
        const float off = aside * float(worst.radiusPx);
        if (ious.empty() && first) {
            worst.at = *first;
        } else if (off > 0) {
            worst.at.x += hand.uniform(-off, off);
            worst.at.y += hand.uniform(-off, off);
            worst.radiusPx *= 1 - aside;
        }
        ask.marks.push_back(clickOn(worst));
        double ms = 0;
        mask = solved(solve, ask, ms);
        ious.push_back(compare(mask, matte).iou);
    }
    return ious;
}

int clicksTo(double iou, const std::vector<double> &ious)
{
    const auto at =
        std::find_if(ious.begin(), ious.end(), [&](double after) { return after >= iou; });
    return int(at - ious.begin()) + 1;
}

std::vector<PhotoPoint> placesIn(const cv::Mat1f &matte, int count)
{
    constexpr double kDeep = 0.5; // of the deepest place
    cv::Mat1f depth;
    cv::distanceTransform(matte > 0.5F, depth, cv::DIST_L2, cv::DIST_MASK_PRECISE);
    double deepest = 0;
    cv::minMaxLoc(depth, nullptr, &deepest);
    std::vector<cv::Point> inside;
    cv::findNonZero(depth > kDeep * deepest, inside);
    cv::RNG random(3);
    std::vector<PhotoPoint> places;
    for (int i = 0; i < count; ++i) {
        const cv::Point at = inside[size_t(random.uniform(0, int(inside.size())))];
        places.push_back({float(at.x) + 0.5F, float(at.y) + 0.5F});
    }
    return places;
}

Rect looseBox(const cv::Mat1f &matte)
{
    const cv::Rect box = cv::boundingRect(cv::Mat1b(matte > 0.5F));
    const int dx = box.width / 10;
    const int dy = box.height / 10;
    return intersected(Rect{0, 0, matte.cols, matte.rows},
                       {box.x - dx, box.y - dy, box.br().x + dx, box.br().y + dy});
}

} // namespace buttonhole::bench
