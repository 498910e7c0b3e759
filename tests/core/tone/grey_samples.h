#pragma once

#include "colour/oklab.h"
#include "render/render.h"
#include "samples.h"

#include <cmath>

namespace buttonhole::test
{

inline std::shared_ptr<const Photo> photoOf(Image<uint16_t> pixels,
                                            const Profile &profile = Profile::srgb())
{
    auto photo = std::make_shared<Photo>();
    photo->width = pixels.width();
    photo->height = pixels.height();
    photo->pixels = std::move(pixels);
    photo->profile = profile;
    return photo;
}

/// sRGB codes of an OKLab colour.
inline std::array<uint16_t, 3> codesOf(const Oklab &lab)
{
    const Vector3 rgb = inverse(Profile::srgb().toXyz()) * toXyz(lab);
    std::array<uint16_t, 3> out{};
    for (size_t c = 0; c < 3; ++c) {
        const double v = std::clamp(rgb[c], 0.0, 1.0);
        const double s = v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
        out[c] = uint16_t(std::lround(s * 65535));
    }
    return out;
}

template <class F>
Image<uint16_t> paint(int width, int height, const F &colourAt)
{
    Image<uint16_t> out(width, height, 3);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const std::array<uint16_t, 3> codes = colourAt(x, y);
            std::copy(codes.begin(), codes.end(), out.pixel(x, y));
        }
    return out;
}

/// All grey, as 16-bit codes of the photo's profile, three a pixel.
inline std::vector<uint16_t> render(const PhotoLevels &levels, const GreyMix &mix, int level = 0)
{
    Take take;
    take.grey = mix;
    const Rect area = levels.rectOf(level);
    std::vector<uint16_t> codes(area.area() * 3);
    const auto done = renderPicture(
        levels, take, View::Result, level, asPicture(area), OutputColour(levels.photo().profile),
        {RenderTarget::Layout::Rgb16, codes.data(), size_t(area.width()) * 6});
    return done ? codes : std::vector<uint16_t>();
}

inline std::vector<uint16_t> render(Image<uint16_t> pixels, const GreyMix &mix)
{
    return render(*PhotoLevels::makeFlat(photoOf(std::move(pixels))), mix);
}

/// Every 16-bit grey once.
inline Image<uint16_t> ramp()
{
    return paint(256, 256, [](int x, int y) {
        const auto code = uint16_t(y * 256 + x);
        return std::array<uint16_t, 3>{code, code, code};
    });
}

inline GreyMix strongHues()
{
    GreyMix mix;
    mix.hue = {{20, 100, 40}, {80, -100, 30}, {150, 80, 40}, {260, -100, 60}};
    return mix;
}

inline double deviation(const std::vector<uint16_t> &codes)
{
    double sum = 0;
    double squares = 0;
    const size_t n = codes.size() / 3;
    for (size_t i = 0; i < n; ++i) {
        sum += codes[3 * i];
        squares += double(codes[3 * i]) * codes[3 * i];
    }
    return std::sqrt(std::max(0.0, squares / double(n) - sum / double(n) * sum / double(n)));
}

} // namespace buttonhole::test
