// What spill does to colours in soft edges. Each demo photo is taken apart along its exact matte
// (the colours of the subject and of what lies behind it, each continued from where it is alone)
// and put together again, so that the subject's own colour in every mixed pixel is known.
// docs/quality.md keeps its table.
#include "colour/oklab.h"
#include "colour/srgb_curve.h"
#include "mask/picture_step.h"
#include "mask_score.h"
#include "render/render.h"

#include <opencv2/imgproc.hpp>

#include <cmath>
#include <cstdio>

using namespace buttonhole;
using namespace buttonhole::bench;

namespace
{

constexpr float kAlone = 0.98F; ///< coverage from which a pixel is the subject's alone

/// The photo in linear sRGB.
cv::Mat3f linearPicture(const PhotoLevels &levels)
{
    const Photo &photo = levels.photo();
    cv::Mat3f out(photo.height, photo.width);
    const auto &pixels = std::get<Image<uint8_t>>(photo.pixels);
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x)
            for (int c = 0; c < 3; ++c)
                out(y, x)[c] = float(srgbLinear(pixels.pixel(x, y)[c] / 255.0));
    return out;
}

/// Each pixel outside of `known` gets the colour of the nearest one inside.
cv::Mat3f continued(const cv::Mat3f &picture, const cv::Mat1b &known)
{
    cv::Mat1f distance;
    cv::Mat1i nearest;
    cv::distanceTransform(~known, distance, nearest, cv::DIST_L2, cv::DIST_MASK_5,
                          cv::DIST_LABEL_PIXEL);
    std::vector<cv::Vec3f> colours(known.total() + 1);
    for (int y = 0; y < known.rows; ++y)
        for (int x = 0; x < known.cols; ++x)
            if (known(y, x))
                colours[size_t(nearest(y, x))] = picture(y, x);
    cv::Mat3f out(picture.size());
    std::transform(nearest.begin(), nearest.end(), out.begin(),
                   [&](int label) { return colours[size_t(label)]; });
    return out;
}

std::shared_ptr<const PhotoLevels> mixed(const cv::Mat3f &own, const cv::Mat3f &behind,
                                         const cv::Mat1f &matte)
{
    auto photo = std::make_shared<Photo>();
    photo->width = matte.cols;
    photo->height = matte.rows;
    Image<uint8_t> pixels(matte.cols, matte.rows, 3);
    for (int y = 0; y < matte.rows; ++y)
        for (int x = 0; x < matte.cols; ++x)
            for (int c = 0; c < 3; ++c) {
                const float a = matte(y, x);
                pixels.pixel(x, y)[c] = uint8_t(
                    std::lround(255 * srgbCode(a * own(y, x)[c] + (1 - a) * behind(y, x)[c])));
            }
    photo->pixels = std::move(pixels);
    return *PhotoLevels::make(photo);
}

Take keeping(const cv::Mat1f &matte)
{
    MaskPlane plane(matte.cols, matte.rows);
    for (int y = 0; y < matte.rows; ++y)
        for (int x = 0; x < matte.cols; ++x)
            if (matte(y, x) > 0)
                plane.writable(
                    x / kTileSize,
                    y / kTileSize)[size_t(y % kTileSize) * kTileSize + size_t(x % kTileSize)] =
                    uint16_t(std::lround(matte(y, x) * 65535));
    Take take = makeTake();
    return withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                       std::make_shared<PictureStep>(std::move(plane)));
}

Oklab labOf(double r, double g, double b)
{
    return toOklab(Profile::srgb().toXyz() * Vector3{r, g, b});
}

/// Mean distance in OKLab's a and b from what the subject's own colour over grey would be, where
/// the matte is partly covered.
double chromaError(const PhotoLevels &levels, const Take &take, const cv::Mat3f &own,
                   const cv::Mat1f &matte)
{
    std::vector<uint16_t> codes(matte.total() * 3);
    (void)renderPicture(levels, take, View::Result, 0, pictureOf(levels, take).rect(),
                        OutputColour(Profile::srgb()),
                        {RenderTarget::Layout::Rgb16, codes.data(), size_t(matte.cols) * 6});
    double sum = 0;
    double count = 0;
    for (int y = 0; y < matte.rows; ++y)
        for (int x = 0; x < matte.cols; ++x) {
            const float a = matte(y, x);
            if (a < 0.02F || a > kAlone)
                continue;
            const uint16_t *code = codes.data() + 3 * (size_t(y) * size_t(matte.cols) + size_t(x));
            const Oklab is = labOf(srgbLinear(code[0] / 65535.0), srgbLinear(code[1] / 65535.0),
                                   srgbLinear(code[2] / 65535.0));
            const cv::Vec3f &c = own(y, x);
            const Oklab subject = labOf(c[0], c[1], c[2]);
            sum += std::hypot(is.a - a * subject.a, is.b - a * subject.b);
            ++count;
        }
    return count > 0 ? sum / count : 0;
}

} // namespace

int main()
{
    std::printf("| chroma error in mixed pixels, OKLab | without | spill 100 %% | of it |\n"
                "| --- | --- | --- | --- |\n");
    for (const auto &[name, subject] : demoSubjects()) {
        const auto levels = loadDemo(name);
        const cv::Mat1f matte = readMatte(name + "." + subject + ".matte.png");
        const cv::Mat3f picture = linearPicture(*levels);
        const cv::Mat3f own = continued(picture, matte >= kAlone);
        const auto photo = mixed(own, continued(picture, matte <= 1 - kAlone), matte);
        Take take = keeping(matte);
        const double without = chromaError(*photo, take, own, matte);
        take.keeps[0].spill = 1;
        const double with = chromaError(*photo, take, own, matte);
        std::printf("| %s, %s | %.4f | %.4f | %.2f |\n", name.c_str(), subject.c_str(), without,
                    with, with / without);
        std::fflush(stdout);
    }
    return 0;
}
