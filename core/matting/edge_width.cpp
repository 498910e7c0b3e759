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
constexpr float kMostBlur = 8;  ///< standard deviation, px
constexpr float kPixel = 0.25F; ///< variance of a pixel's own blur, px^2
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

/// The variance of an edge's own blur, px^2, from its squared gradients' ratio
/// (s^2 + coarse^2) / (s^2 + fine^2).
float varianceOf(float ratio)
{
    if (ratio <= 1)
        return kMostBlur * kMostBlur;
    const float variance = (kCoarse * kCoarse - ratio * kFine * kFine) / (ratio - 1);
    return std::clamp(variance, 0.0F, kMostBlur * kMostBlur);
}

} // namespace

cv::Mat1f foundWidth(const cv::Mat3f &lab, const cv::Mat1f &away)
{
    const cv::Mat1f fine = steepness(lab, kFine);
    const cv::Mat1f coarse = steepness(lab, kCoarse);
    // Where an edge is sharp in one place, what is less so beside it is shading: variances are
    // gathered by their inverse.
    cv::Mat1f weight(cv::Mat1f::zeros(lab.size()));
    cv::Mat1f sharpness(cv::Mat1f::zeros(lab.size()));
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            if (away(y, x) <= kAtEdgePx) {
                weight(y, x) = fine(y, x) * fine(y, x);
                const float variance = varianceOf(fine(y, x) / std::max(coarse(y, x), 1e-12F));
                sharpness(y, x) = weight(y, x) / (variance + kPixel);
            }
    const cv::Size window(2 * kAround + 1, 2 * kAround + 1);
    cv::boxFilter(weight, weight, CV_32F, window, {-1, -1}, true, cv::BORDER_CONSTANT);
    cv::boxFilter(sharpness, sharpness, CV_32F, window, {-1, -1}, true, cv::BORDER_CONSTANT);
    constexpr double kTimes = 1.5; // of the blur, to either side, and a pixel for the mask's error
    cv::Mat1f blur(cv::max(weight, 1e-16F) / cv::max(sharpness, 1e-18F) - kPixel);
    cv::sqrt(cv::max(blur, 0), blur);
    return cv::Mat1f(cv::min(1 + kTimes * blur, EdgeBand::kMostFoundPx));
}

} // namespace buttonhole
