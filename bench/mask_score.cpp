#include "mask_score.h"

#include "io/photo.h"

#include <opencv2/imgproc.hpp>

#include <cstdio>

namespace buttonhole::bench
{

namespace
{
constexpr double kBandPx = 10; // to either side
constexpr double kWideBandPx = 20;
} // namespace

const std::vector<DemoSubject> &demoSubjects()
{
    static const std::vector<DemoSubject> all{{"spools", "spool"},
                                              {"wool-basket", "teal-ball"},
                                              {"washing-line", "magenta-cloth"},
                                              {"loom", "shuttle"},
                                              {"mill-pond", "boat"},
                                              {"loom", "blue-threads"},
                                              {"button-jar", "yellow-buttons"},
                                              {"mill-pond", "boat-reflection"}};
    return all;
}

std::shared_ptr<const PhotoLevels> loadDemo(const std::string &photo)
{
    auto levels = PhotoLevels::load(BUTTONHOLE_DEMO "/" + photo + ".jpg");
    if (!levels)
        std::exit((std::fprintf(stderr, "%s\n", sentence(levels.error()).c_str()), 1));
    return *levels;
}

cv::Mat1f readMatte(const std::string &name)
{
    return readMatteFile(std::string(BUTTONHOLE_DEMO "/") + name);
}

cv::Mat1f readMatteFile(const std::string &file)
{
    const auto photo = loadPhoto(file);
    if (!photo)
        std::exit((std::fprintf(stderr, "%s\n", sentence(photo.error()).c_str()), 1));
    cv::Mat1f out(photo->height, photo->width);
    std::visit(
        [&](const auto &image) {
            const float top = sizeof(*image.row(0)) == 1 ? 255.0F : 65535.0F;
            for (int y = 0; y < out.rows; ++y)
                for (int x = 0; x < out.cols; ++x)
                    out(y, x) = float(*image.pixel(x, y)) / top;
        },
        photo->pixels);
    return out;
}

Score compare(const cv::Mat1f &mask, const cv::Mat1f &matte)
{
    const cv::Mat1b truth = matte > 0.5F;
    cv::Mat1f inside;
    cv::Mat1f outside;
    cv::distanceTransform(truth, inside, cv::DIST_L2, cv::DIST_MASK_PRECISE);
    cv::distanceTransform(~truth, outside, cv::DIST_L2, cv::DIST_MASK_PRECISE);
    double both = 0;
    double either = 0;
    double bothHalf = 0;
    double eitherHalf = 0;
    double error = 0;
    double bandError = 0;
    double band = 0;
    double wideBandError = 0;
    double wideBand = 0;
    for (int y = 0; y < mask.rows; ++y)
        for (int x = 0; x < mask.cols; ++x) {
            const float m = mask(y, x);
            const float t = matte(y, x);
            both += std::min(m, t);
            either += std::max(m, t);
            bothHalf += m > 0.5F && t > 0.5F;
            eitherHalf += m > 0.5F || t > 0.5F;
            error += std::abs(m - t);
            const double away = std::max(inside(y, x), outside(y, x));
            if (away <= kBandPx) {
                bandError += std::abs(m - t);
                ++band;
            }
            if (away <= kWideBandPx) {
                wideBandError += std::abs(m - t);
                ++wideBand;
            }
        }
    return {bothHalf / eitherHalf,
            2 * bothHalf / (bothHalf + eitherHalf),
            both / either,
            error / double(mask.total()),
            bandError / std::max(band, 1.0),
            wideBandError / std::max(wideBand, 1.0)};
}

WorstError worstError(const cv::Mat1f &mask, const cv::Mat1f &matte)
{
    WorstError worst;
    for (const bool isTooMuch : {false, true}) {
        const cv::Mat1b wrong =
            isTooMuch ? (mask > 0.5F) & (matte < 0.5F) : (mask < 0.5F) & (matte > 0.5F);
        cv::Mat1b framed;
        cv::copyMakeBorder(wrong, framed, 1, 1, 1, 1, cv::BORDER_CONSTANT, 0);
        cv::Mat1f depth;
        cv::distanceTransform(framed, depth, cv::DIST_L2, cv::DIST_MASK_PRECISE);
        double most = 0;
        cv::Point at;
        cv::minMaxLoc(depth, nullptr, &most, nullptr, &at);
        if (most > worst.radiusPx)
            worst = {{float(at.x) - 0.5F, float(at.y) - 0.5F}, most, isTooMuch};
    }
    return worst;
}

cv::Mat1f toMat(const MaskPlane &plane)
{
    cv::Mat1f out(plane.height(), plane.width());
    std::vector<uint16_t> row(size_t(plane.width()));
    for (int y = 0; y < out.rows; ++y) {
        plane.read({0, y, out.cols, y + 1}, row.data(), row.size());
        for (int x = 0; x < out.cols; ++x)
            out(y, x) = float(row[size_t(x)]) / 65535;
    }
    return out;
}

} // namespace buttonhole::bench
