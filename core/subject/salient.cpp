#include "subject/salient.h"

#include "subject/net_picture.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

/// How an answer looks for a box; each 0..1.
struct Fit {
    float isSure = 0; ///< how far from undecided it is where it says anything
    float spans = 0;  ///< of the box, the shorter way
    float isOne = 0;  ///< the share of its largest part
    float goesOn = 0; ///< the share of the box's border that it touches: a loose box is not touched
};

/// The pixels along the sides of the box that are not the photo's.
cv::Mat1b borderOf(const Rect &box, const Rect &photo)
{
    constexpr int kWide = kSalientSide / 64;
    cv::Mat1b out(kSalientSide, kSalientSide, uint8_t(0));
    if (box.x0 > photo.x0)
        out.colRange(0, kWide) = 255;
    if (box.x1 < photo.x1)
        out.colRange(kSalientSide - kWide, kSalientSide) = 255;
    if (box.y0 > photo.y0)
        out.rowRange(0, kWide) = 255;
    if (box.y1 < photo.y1)
        out.rowRange(kSalientSide - kWide, kSalientSide) = 255;
    return out;
}

Fit fitOf(const cv::Mat1f &answer, const cv::Mat1b &border)
{
    Fit out;
    constexpr float kSaysSomething = 0.05F;
    double decided = 0;
    double said = 0;
    for (const float p : answer)
        if (p > kSaysSomething) {
            decided += double(std::abs(2 * p - 1));
            said += 1;
        }
    if (said == 0)
        return out;
    out.isSure = float(decided / said);
    const cv::Mat1b inside(answer > 0.5F);
    const int whole = cv::countNonZero(border);
    if (whole > 0)
        out.goesOn = float(cv::countNonZero(inside & border)) / float(whole);
    const cv::Rect bounds = cv::boundingRect(inside);
    out.spans = float(std::min(bounds.width, bounds.height)) / kSalientSide;
    cv::Mat1i parts;
    cv::Mat stats;
    cv::Mat centres;
    const int count = cv::connectedComponentsWithStats(inside, parts, stats, centres, 8);
    double most = 0;
    double sum = 0;
    for (int i = 1; i < count; ++i) {
        const double area = stats.at<int>(i, cv::CC_STAT_AREA);
        most = std::max(most, area);
        sum += area;
    }
    out.isOne = sum > 0 ? float(most / sum) : 0;
    return out;
}

/// Leaves out the parts of neighbours that the box cuts: those that go on beyond its border, where
/// another part lies within it.
/// @param under of 512 x 512; parts that hold one of them stay. None: the largest that lies within
void dropNeighbours(cv::Mat1f &answer, const cv::Mat1b &border, const std::vector<cv::Point> &under)
{
    constexpr double kLeastShare = 0.25; // of all, of what stays
    constexpr int kRim = 4;
    cv::Mat1i parts;
    cv::Mat stats;
    cv::Mat centres;
    const cv::Mat1b inside(answer > 0.5F);
    const int count = cv::connectedComponentsWithStats(inside, parts, stats, centres, 8);
    std::vector<bool> isCut(size_t(count), false);
    std::vector<bool> isMeant(size_t(count), false);
    for (int y = 0; y < parts.rows; ++y)
        for (int x = 0; x < parts.cols; ++x)
            if (border(y, x))
                isCut[size_t(parts(y, x))] = true;
    for (const cv::Point &at : under)
        isMeant[size_t(parts(at))] = true;
    double stays = 0;
    double all = 0;
    for (int i = 1; i < count; ++i) {
        const double area = stats.at<int>(i, cv::CC_STAT_AREA);
        all += area;
        if (under.empty())
            isMeant[size_t(i)] = !isCut[size_t(i)];
        stays += isMeant[size_t(i)] ? area : 0;
    }
    if (stays <= kLeastShare * all)
        return;
    cv::Mat1b dropped(cv::Mat1b::zeros(parts.size()));
    for (int y = 0; y < parts.rows; ++y)
        for (int x = 0; x < parts.cols; ++x) {
            const auto part = size_t(parts(y, x));
            dropped(y, x) = part > 0 && isCut[part] && !isMeant[part] ? 255 : 0;
        }
    cv::dilate(dropped, dropped, cv::Mat1b::ones(2 * kRim + 1, 2 * kRim + 1));
    for (int y = 0; y < parts.rows; ++y)
        for (int x = 0; x < parts.cols; ++x)
            if (dropped(y, x) && !(parts(y, x) > 0 && isMeant[size_t(parts(y, x))]))
                answer(y, x) = 0;
}

/// 0 up to `none`, 1 from `full` on.
float ramp(float value, float none, float full)
{
    return std::clamp((value - none) / (full - none), 0.0F, 1.0F);
}

Result<cv::Mat1f> lookAtArea(const PhotoLevels &levels, const Rect &area, int side, const Run &run)
{
    const auto nets = loadNets();
    if (!nets)
        return nets.error();
    const auto model = findModel(kSalientModel);
    if (!model)
        return model.error();
    Run stopping; // its progress is not that of the whole
    stopping.stop = run.stop;
    auto values = (*nets)->salient(*model, readNetPicture(levels, area, side), side, stopping);
    if (!values)
        return values.error();
    return cv::Mat1f(side, side, values->data()).clone();
}

} // namespace

std::vector<cv::Rect> partsOfAnswer(const RegionPrior &answer)
{
    constexpr double kLeastPart = 0.1; // of the largest
    const cv::Mat1f inside(answer.inside.height(), answer.inside.width(),
                           const_cast<float *>(answer.inside.row(0)));
    cv::Mat1i labels;
    cv::Mat1i stats;
    cv::Mat1d centres;
    const int count = cv::connectedComponentsWithStats(inside > 0.5F, labels, stats, centres, 8);
    std::vector<std::pair<int, cv::Rect>> found; ///< by area
    for (int i = 1; i < count; ++i)
        found.emplace_back(stats(i, cv::CC_STAT_AREA),
                           cv::Rect(stats(i, cv::CC_STAT_LEFT), stats(i, cv::CC_STAT_TOP),
                                    stats(i, cv::CC_STAT_WIDTH), stats(i, cv::CC_STAT_HEIGHT)));
    std::stable_sort(found.begin(), found.end(),
                     [](const auto &a, const auto &b) { return a.first > b.first; });
    std::vector<cv::Rect> out;
    for (const auto &[area, box] : found)
        if (area >= kLeastPart * found.front().first)
            out.push_back(box);
    return out;
}

cv::Point pixelOf(const PhotoPoint &at, const Rect &area, const cv::Size &size)
{
    const double x = (double(at.x) - area.x0) * size.width / area.width();
    const double y = (double(at.y) - area.y0) * size.height / area.height();
    return {std::clamp(int(std::floor(x)), 0, size.width - 1),
            std::clamp(int(std::floor(y)), 0, size.height - 1)};
}

Result<cv::Mat1f> draftSalient(const PhotoLevels &levels, const Rect &area, const Run &run)
{
    return lookAtArea(levels, area, kSalientDraftSide, run);
}

Result<RegionPrior> findSalient(const PhotoLevels &levels, const Rect &box, const Run &run,
                                const std::vector<PhotoPoint> &under)
{
    auto answer = lookAtArea(levels, box, kSalientSide, run);
    if (!answer)
        return answer.error();
    const Rect photo = levels.photo().rect();
    const cv::Mat1b border = borderOf(box, photo);
    std::vector<cv::Point> meant;
    for (const PhotoPoint &point : under)
        meant.push_back(pixelOf(point, box, answer->size()));
    dropNeighbours(*answer, border, meant);
    RegionPrior out{box, Image<float>(kSalientSide, kSalientSide, 1), 0, false};
    answer->copyTo(cv::Mat1f(kSalientSide, kSalientSide, out.inside.row(0)));
    const Fit fit = fitOf(*answer, border);
    const bool isPhoto = box == photo;
    out.trust = ramp(fit.isSure, 0.3F, 0.7F);
    if (!isPhoto)
        out.trust *= ramp(fit.spans, 0.3F, 0.6F) * (1 - 0.6F * ramp(fit.goesOn, 0.02F, 0.25F));
    out.isAnswer = fit.isSure > 0.75F &&
                   (isPhoto || (fit.spans > 0.7F && fit.isOne > 0.85F && fit.goesOn < 0.02F));
    return out;
}

} // namespace buttonhole
