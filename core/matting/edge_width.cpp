#include "matting/edge_width.h"

#include "matting/edge_band.h"

#include <opencv2/imgproc.hpp>

namespace buttonhole
{

namespace
{

constexpr int kAround = 10; ///< px: so far round about blur is gathered
constexpr float kAtEdgePx = 2;
constexpr float kFine = 1; ///< standard deviations of the two blurs that are compared, px
constexpr float kCoarse = 2;
constexpr float kMostBlur = 8; ///< standard deviation, px
static_assert(kAround + 4 * kCoarse + kAtEdgePx <= kFoundWidthMargin);

/// Squared length of the gradient of all three channels after a blur.
cv::Mat1f steepness(const cv::Mat3f &lab, double sigma)
{
    cv::Mat3f calm;
    cv::GaussianBlur(lab, calm, {0, 0}, sigma);
    cv::Mat1f out(lab.size(), 0.0F);
    for (int y = 1; y + 1 < lab.rows; ++y)
        for (int x = 1; x + 1 < lab.cols; ++x) {
            const cv::Vec3f across = calm(y, x + 1) - calm(y, x - 1);
            const cv::Vec3f down = calm(y + 1, x) - calm(y - 1, x);
            out(y, x) = across.dot(across) + down.dot(down);
        }
    return out;
}

/// The standard deviation of an edge's own blur, from its squared gradients' ratio
/// (s^2 + coarse^2) / (s^2 + fine^2).
float blurOf(float ratio)
{
    if (ratio <= 1)
        return kMostBlur;
    const float squared = (kCoarse * kCoarse - ratio * kFine * kFine) / (ratio - 1);
    return std::sqrt(std::clamp(squared, 0.0F, kMostBlur * kMostBlur));
}

} // namespace

cv::Mat1f foundWidth(const cv::Mat3f &lab, const cv::Mat1f &away)
{
    const cv::Mat1f fine = steepness(lab, kFine);
    const cv::Mat1f coarse = steepness(lab, kCoarse);
    cv::Mat1f weight = cv::Mat1f::zeros(lab.size());
    cv::Mat1f blur = cv::Mat1f::zeros(lab.size());
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            if (away(y, x) <= kAtEdgePx) {
                weight(y, x) = fine(y, x) * fine(y, x);
                blur(y, x) = weight(y, x) * blurOf(fine(y, x) / std::max(coarse(y, x), 1e-12F));
            }
    const cv::Size window(2 * kAround + 1, 2 * kAround + 1);
    cv::boxFilter(weight, weight, CV_32F, window, {-1, -1}, true, cv::BORDER_CONSTANT);
    cv::boxFilter(blur, blur, CV_32F, window, {-1, -1}, true, cv::BORDER_CONSTANT);
    constexpr double kTimes = 1.5; // of the blur, to either side, and a pixel for the mask's error
    return cv::min(1 + kTimes * blur / cv::max(weight, 1e-16F), EdgeBand::kMostFoundPx);
}

} // namespace buttonhole
