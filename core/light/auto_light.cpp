#include "colour/oklab.h"
#include "io/lab_row.h"
#include "light/photo_light.h"
#include "light/white_balance.h"

#include <opencv2/imgproc.hpp>

#include <cmath>
#include <numeric>

namespace buttonhole
{

namespace
{

constexpr int kSeenEdge = 512; ///< px of the long edge, at most
constexpr float kIsClipped = 0.995F;

cv::Mat3f linearOf(const PhotoLevels &levels)
{
    const int level = levels.levelWithin(kSeenEdge);
    const Rect area = levels.rectOf(level);
    cv::Mat3f out(area.height(), area.width());
    LabRow row;
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; x += kRowRun) {
            const int n = std::min(kRowRun, out.cols - x);
            readLightRow(levels, level, x, y, n, row.L, row.a, row.b);
            for (int i = 0; i < n; ++i)
                out(y, x + i) = {row.L[i], row.a[i], row.b[i]};
        }
    return out;
}

float mostOf(const cv::Vec3f &p)
{
    return std::max({p[0], p[1], p[2]});
}

double percentile(std::vector<float> &values, double share)
{
    const auto at = values.begin() + long(share * double(values.size() - 1));
    std::nth_element(values.begin(), at, values.end());
    return double(*at);
}

/// Minkowski means of light and of its steps: what casts a colour casts it on both (G. Finlayson,
/// E. Trezzi, "Shades of gray and colour constancy", 2004; J. van de Weijer, T. Gevers, A.
/// Gijsenij, "Edge-based color constancy", 2007).
WhiteBalance castOf(const cv::Mat3f &light, const LightSpace &space)
{
    constexpr double kLightPower = 6;
    constexpr double kStepPower = 4;
    constexpr double kBlurPx = 1.5;
    constexpr float kNearlyClipped = 0.98F;
    cv::Mat3f soft;
    cv::Mat3f alongX;
    cv::Mat3f alongY;
    cv::GaussianBlur(light, soft, {}, kBlurPx);
    cv::Sobel(soft, alongX, CV_32F, 1, 0);
    cv::Sobel(soft, alongY, CV_32F, 0, 1);
    Vector3 mean{};
    Vector3 steps{};
    double count = 0;
    for (int y = 0; y < light.rows; ++y)
        for (int x = 0; x < light.cols; ++x) {
            const bool isOpen = mostOf(light(y, x)) < kNearlyClipped;
            count += isOpen ? 1 : 0;
            for (int c = 0; c < 3; ++c) {
                const auto i = size_t(c);
                if (isOpen)
                    mean[i] += std::pow(std::max(0.0, double(light(y, x)[c])), kLightPower);
                steps[i] +=
                    std::pow(double(std::hypot(alongX(y, x)[c], alongY(y, x)[c])), kStepPower);
            }
        }
    for (size_t i = 0; i < 3; ++i) {
        mean[i] = std::pow(mean[i] / std::max(count, 1.0), 1 / kLightPower);
        steps[i] = std::pow(steps[i] / double(light.total()), 1 / kStepPower);
    }
    constexpr double kLeast = 1e-3; // darker says nothing
    const auto isLit = [](const Vector3 &v) { return std::min({v[0], v[1], v[2]}) > kLeast; };
    WhiteBalance out;
    double said = 0;
    for (const Vector3 &each : {mean, steps})
        if (isLit(each)) {
            const WhiteBalance own = balanceFor(each, space);
            out.temperature += own.temperature;
            out.greenMagenta += own.greenMagenta;
            said += 1;
        }
    if (said == 0)
        return {};
    // Photographs are a little warm on the whole, and what is green in them is grass.
    constexpr double kUsual = -25.0 / 200;
    constexpr double kGreenTrust = 0.5;
    return {out.temperature / said - kUsual, kGreenTrust * out.greenMagenta / said};
}

/// Stops that the photo wants: a linear model, fitted by bench/fit_exposure.py to bring 31
/// freely licensed photographs back that were made -2 .. +1.5 stops lighter.
double wantedEv(const cv::Mat3f &light, const LightSpace &space)
{
    const auto &toY = space.profile.toXyz()[1];
    std::vector<float> lightness;
    double clipped = 0;
    double sum = 0;
    for (const cv::Vec3f &p : light) {
        const double y = toY[0] * double(std::min(p[0], 1.0F)) +
                         toY[1] * double(std::min(p[1], 1.0F)) +
                         toY[2] * double(std::min(p[2], 1.0F));
        lightness.push_back(float(std::cbrt(std::max(y, 0.0))));
        sum += double(lightness.back());
        clipped += mostOf(p) >= kIsClipped ? 1 : 0;
    }
    const auto count = double(lightness.size());
    clipped /= count;
    constexpr double kShares[] = {0.05, 0.25, 0.5, 0.75, 0.9, 0.99};
    constexpr double kWeights[] = {-0.062, -0.215, 0.024, 0.277, -0.491, -2.115};
    constexpr double kOfMean = -0.194;
    constexpr double kOfClipped = -0.455;
    constexpr double kOfSomeClipped = -0.926;
    constexpr double kConstant = -0.312;
    constexpr double kLeast = 0.02;
    double ev = kConstant + kOfMean * std::log(std::max(sum / count, kLeast)) +
                kOfClipped * std::sqrt(clipped) + kOfSomeClipped * std::min(20 * clipped, 1.0);
    for (size_t i = 0; i < std::size(kShares); ++i)
        ev += kWeights[i] * std::log(std::max(percentile(lightness, kShares[i]), kLeast));
    return ev;
}

/// What may be clipped: full pixels, since means hide glints.
struct Ends {
    std::vector<float> most;      ///< of the channels, where the photo is not clipped yet
    std::vector<float> lightness; ///< OKLab L, of all
};

Ends endsOf(const PhotoLevels &levels, const Matrix3 &balance)
{
    constexpr int kRows = 800; // looked at, at least
    const Matrix3 toXyz = levels.colour().profile.toXyz();
    const Rect area = levels.rectOf(0);
    const int step = std::max(1, area.height() / kRows);
    Ends out;
    LabRow row;
    for (int y = 0; y < area.y1; y += step)
        for (int x = 0; x < area.x1; x += kRowRun) {
            const int n = std::min(kRowRun, area.x1 - x);
            readLightRow(levels, 0, x, y, n, row.L, row.a, row.b);
            for (int i = 0; i < n; i += step) {
                const Vector3 rgb =
                    balance * Vector3{double(row.L[i]), double(row.a[i]), double(row.b[i])};
                out.lightness.push_back(float(toOklab(toXyz * rgb).L));
                if (std::max({row.L[i], row.a[i], row.b[i]}) < kIsClipped)
                    out.most.push_back(float(std::max({rgb[0], rgb[1], rgb[2]})));
            }
        }
    return out;
}

} // namespace

PhotoLight autoLight(const PhotoLevels &levels, PhotoLight light)
{
    constexpr double kMayClip = 0.0008; // with room for what is not looked at
    constexpr double kMostEv = 3;
    constexpr double kHazy = 0.15; // OKLab L of the darkest
    const cv::Mat3f seen = linearOf(levels);
    const SourceColour &space = levels.colour();
    const WhiteBalance cast = castOf(seen, space);
    light.temperature = float(std::clamp(cast.temperature, -1.0, 1.0));
    light.greenMagenta = float(std::clamp(cast.greenMagenta, -1.0, 1.0));
    const double wanted = wantedEv(seen, space);

    Ends ends =
        endsOf(levels, balanceMatrix(double(light.temperature), double(light.greenMagenta), space));
    const double room =
        ends.most.empty() ? 0 : -std::log2(std::max(percentile(ends.most, 1 - kMayClip), 1e-3));
    const double ev =
        std::clamp(std::min(wanted, std::max(room, std::min(wanted, 0.0))), -kMostEv, kMostEv);
    light.exposureEv = float(ev);
    // What exposure may not do without clipping, the shadows do.
    constexpr double kShadowsPerEv = 0.35;
    light.liftShadows = float(std::clamp(kShadowsPerEv * (wanted - ev), 0.0, 0.7));
    const double least = percentile(ends.lightness, kMayClip) * std::exp2(ev / 3);
    light.blackPoint = float(std::clamp((least - kHazy) / 0.3, 0.0, 0.5));
    return light;
}

PhotoLight neutralisedAt(PhotoLight light, const Vector3 &rgb, const LightSpace &space)
{
    const WhiteBalance balance = balanceFor(rgb, space);
    light.temperature = float(balance.temperature);
    light.greenMagenta = float(balance.greenMagenta);
    return light;
}

} // namespace buttonhole
