#include "make_photo.h"

#include "io/file.h"
#include "io/jpeg.h"
#include "raster/parallel_tiles.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

namespace buttonhole::bench
{

Image<uint8_t> makePicture(const std::string &demoPhoto, double megapixels)
{
    const auto photo = loadPhoto(demoPhoto);
    if (!photo) {
        std::fprintf(stderr, "%s\n", sentence(photo.error()).c_str());
        std::exit(1);
    }
    const auto &from = std::get<Image<uint8_t>>(photo->pixels);
    const double scale =
        std::sqrt(megapixels * 1e6 / (double(from.width()) * double(from.height())));
    Image<uint8_t> out(int(std::lround(from.width() * scale)),
                       int(std::lround(from.height() * scale)), 3);
    parallelRows(out.height(), 32, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            uint32_t state = uint32_t(y) * 2654435761U + 1;
            const double sy = std::clamp((y + 0.5) / scale - 0.5, 0.0, from.height() - 1.001);
            for (int x = 0; x < out.width(); ++x) {
                const double sx = std::clamp((x + 0.5) / scale - 0.5, 0.0, from.width() - 1.001);
                const double fx = sx - int(sx);
                const double fy = sy - int(sy);
                for (int c = 0; c < 3; ++c) {
                    const double top = from.pixel(int(sx), int(sy))[c] * (1 - fx) +
                                       from.pixel(int(sx) + 1, int(sy))[c] * fx;
                    const double bottom = from.pixel(int(sx), int(sy) + 1)[c] * (1 - fx) +
                                          from.pixel(int(sx) + 1, int(sy) + 1)[c] * fx;
                    double noise = 0; // sum of three uniforms: close to a bell, sigma 4
                    for (int i = 0; i < 3; ++i) {
                        state = state * 1664525U + 1013904223U;
                        noise += double(state >> 8) / 16777216.0 - 0.5;
                    }
                    out.pixel(x, y)[c] = uint8_t(std::clamp(
                        std::lround(top * (1 - fy) + bottom * fy + noise * 8), 0L, 255L));
                }
            }
        }
    });
    return out;
}

std::string makePhotoFile(const std::string &demoPhoto, double megapixels)
{
    const auto path = std::filesystem::temp_directory_path() /
                      ("buttonhole-bench-" + std::filesystem::path(demoPhoto).stem().string() +
                       "-" + std::to_string(int(megapixels)) + "mp.jpg");
    if (!std::filesystem::exists(path)) {
        const Image<uint8_t> picture = makePicture(demoPhoto, megapixels);
        PictureSpec spec;
        spec.width = picture.width();
        spec.height = picture.height();
        spec.icc = Profile::srgb().icc();
        const auto bytes = encodeJpeg(picture, spec);
        if (!bytes || !writeBytesAtomically(path.string(), bytes->data(), bytes->size()))
            std::exit(1);
    }
    return path.string();
}

} // namespace buttonhole::bench
