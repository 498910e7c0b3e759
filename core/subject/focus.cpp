#include "subject/focus.h"

#include "raster/parallel_tiles.h"
#include "segment/look_frame.h"
#include "subject/net_picture.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kEdge = 500;    ///< long edge of what is looked at, px
constexpr double kRoom = 0.4; ///< round the box
constexpr float kUnknown = 0.3F;

/// Of the steepest of lightness and colours, in some hundredths of OKLab to one px.
cv::Mat1f gradientOf(const cv::Mat3f &lab, double sigma)
{
    constexpr float kPer[] = {100, 300, 300};
    cv::Mat3f smooth;
    cv::GaussianBlur(lab, smooth, {}, sigma);
    cv::Mat dx, dy;
    cv::Sobel(smooth, dx, CV_32F, 1, 0, 3, 1 / 8.0);
    cv::Sobel(smooth, dy, CV_32F, 0, 1, 3, 1 / 8.0);
    cv::Mat1f out(lab.size());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            float sum = 0;
            for (int c = 0; c < 3; ++c)
                sum += (std::pow(dx.at<cv::Vec3f>(y, x)[c], 2.0F) +
                        std::pow(dy.at<cv::Vec3f>(y, x)[c], 2.0F)) *
                       kPer[c] * kPer[c];
            out(y, x) = std::sqrt(sum);
        }
    return out;
}

/// From near by first, from farther off where there is nothing; the farther, the coarser.
cv::Mat1f spread(const cv::Mat1f &in)
{
    constexpr struct {
        double sigma;
        double weight;
        int smaller;
    } kRounds[] = {{3.5, 1, 1}, {7, 0.3, 2}, {18, 0.1, 4}, {50, 0.03, 8}};
    cv::Mat1f out(cv::Mat1f::zeros(in.size()));
    for (const auto &[sigma, weight, smaller] : kRounds) {
        const cv::Size size(std::max(in.cols / smaller, 1), std::max(in.rows / smaller, 1));
        cv::Mat1f blurred;
        cv::resize(in, blurred, size, 0, 0, cv::INTER_AREA);
        cv::GaussianBlur(blurred, blurred, {}, sigma / smaller);
        cv::resize(blurred, blurred, in.size(), 0, 0, cv::INTER_LINEAR);
        out += weight * blurred;
    }
    return out;
}

/// 0 (blurred) .. 1 (sharp); kUnknown where there are no edges far and wide.
cv::Mat1f sharpnessOf(const cv::Mat3f &lab)
{
    constexpr double kFine = 0.6; // standard deviations, px
    constexpr double kCoarse = 1.8;
    constexpr float kLeastEdge = 0.4F; // fainter is noise
    constexpr float kMostEdge = 6;
    constexpr float kBlurred = 1.15F; // fine gradient over coarse
    constexpr float kSharp = 1.9F;
    constexpr float kLittle = 0.05F;
    cv::Mat1f fine;
    cv::Mat1f coarse;
    parallelFor(
        2, [&](int i) { (i == 0 ? fine : coarse) = gradientOf(lab, i == 0 ? kFine : kCoarse); });
    cv::Mat1f ratio(fine / (coarse + 0.25F));
    cv::Mat1f weight;
    cv::dilate(ratio, ratio, cv::Mat1b::ones(3, 3)); // at the edge's middle
    cv::dilate(coarse, weight, cv::Mat1b::ones(3, 3));
    weight = cv::min(cv::max(weight - kLeastEdge, 0), kMostEdge);
    ratio = cv::min(cv::max((ratio - kBlurred) / (kSharp - kBlurred), 0), 1);
    cv::Mat1f sharp;
    cv::Mat1f all;
    parallelFor(2, [&](int i) {
        (i == 0 ? sharp : all) = spread(i == 0 ? cv::Mat1f(weight.mul(ratio)) : weight);
    });
    return cv::Mat1f((sharp + kLittle * kUnknown) / (all + kLittle));
}

double ramp(double value, double from, double to)
{
    return std::clamp((value - from) / (to - from), 0.0, 1.0);
}

/// Where the background is looked for: round the box, and along the border of what is seen.
cv::Mat1b roundBox(const LookFrame &frame, const Rect &box)
{
    constexpr double kBorder = 0.08;
    const int border = int(kBorder * std::min(frame.lab.rows, frame.lab.cols));
    const cv::Point2d a = frame.toFrame({float(box.x0), float(box.y0)});
    const cv::Point2d b = frame.toFrame({float(box.x1), float(box.y1)});
    const cv::Rect inner(border, border, frame.lab.cols - 2 * border, frame.lab.rows - 2 * border);
    cv::Mat1b out(frame.lab.size(), 255);
    out(cv::Rect(cv::Point(a), cv::Point(b)) & inner) = 0;
    return out;
}

/// How much sharpness tells the box from what lies round it, 0..1.
float trustIn(const cv::Mat1f &sharpness, const cv::Mat1b &background)
{
    constexpr float kBlurred = 0.2F;
    const double ground = std::max(cv::countNonZero(background), 1);
    const double blurred = cv::countNonZero((sharpness < kBlurred) & background) / ground;
    const double sharper = cv::mean(sharpness, ~background)[0] - cv::mean(sharpness, background)[0];
    std::vector<float> inside;
    for (int y = 0; y < sharpness.rows; ++y)
        for (int x = 0; x < sharpness.cols; ++x)
            if (!background(y, x))
                inside.push_back(sharpness(y, x));
    if (inside.empty())
        return 0;
    const auto high = inside.begin() + ptrdiff_t(0.9 * double(inside.size() - 1));
    std::nth_element(inside.begin(), high, inside.end());
    return float(
        std::min({ramp(blurred, 0.15, 0.35), ramp(*high, 0.5, 0.7), ramp(sharper, 0.0, 0.1)}));
}

} // namespace

RegionPrior findFocus(const PhotoLevels &levels, const Rect &box)
{
    constexpr float kBlurredSays = 13; // logits to one of sharpness
    constexpr float kSharpSays = 5;
    const Rect area = enlarged(box, kRoom, levels.photo().rect());
    const LookFrame frame = readFrame(levels, area, kEdge);
    const cv::Mat1f sharpness = sharpnessOf(frame.lab);
    RegionPrior out{area, Image<float>(sharpness.cols, sharpness.rows, 1),
                    trustIn(sharpness, roundBox(frame, box))};
    std::transform(sharpness.begin(), sharpness.end(), out.inside.row(0), [](float value) {
        const float off = value - kUnknown;
        return 1 / (1 + std::exp(-off * (off < 0 ? kBlurredSays : kSharpSays)));
    });
    return out;
}

} // namespace buttonhole
