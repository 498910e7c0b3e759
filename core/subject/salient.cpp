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

/// 0 up to `none`, 1 from `full` on.
float ramp(float value, float none, float full)
{
    return std::clamp((value - none) / (full - none), 0.0F, 1.0F);
}

} // namespace

Result<RegionPrior> findSalient(const PhotoLevels &levels, const Rect &box, const Run &run)
{
    const auto nets = loadNets();
    if (!nets)
        return nets.error();
    const auto model = findModel(kSalientModel);
    if (!model)
        return model.error();
    const Rect photo = levels.photo().rect();
    Run stopping; // its progress is not that of the whole
    stopping.stop = run.stop;
    auto values = (*nets)->salient(*model, readNetPicture(levels, box, kSalientSide), stopping);
    if (!values)
        return values.error();
    const cv::Mat1f answer(kSalientSide, kSalientSide, values->data());
    RegionPrior out{box, Image<float>(kSalientSide, kSalientSide, 1), 0, false};
    answer.copyTo(cv::Mat1f(kSalientSide, kSalientSide, out.inside.row(0)));
    const Fit fit = fitOf(answer, borderOf(box, photo));
    const bool isPhoto = box == photo;
    out.trust = ramp(fit.isSure, 0.3F, 0.7F);
    if (!isPhoto)
        out.trust *= ramp(fit.spans, 0.3F, 0.6F) * (1 - 0.6F * ramp(fit.goesOn, 0.02F, 0.25F));
    out.isAnswer = fit.isSure > 0.75F &&
                   (isPhoto || (fit.spans > 0.7F && fit.isOne > 0.85F && fit.goesOn < 0.02F));
    return out;
}

} // namespace buttonhole
