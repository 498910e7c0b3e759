#include "io/photo_with_light.h"

#include "colour/pixel_rows.h"

namespace buttonhole
{

std::shared_ptr<const Photo> withLight(const Photo &photo, const LightTile &light,
                                       const std::vector<uint8_t> &where)
{
    auto out = std::make_shared<Photo>();
    out->path = photo.path;
    out->format = photo.format;
    out->width = photo.width;
    out->height = photo.height;
    out->sourceBits = photo.sourceBits;
    out->dpi = photo.dpi;
    out->profile = photo.profile;
    out->hasOwnProfile = photo.hasOwnProfile;
    out->metadata = photo.metadata;
    const Rect &area = light.area();
    std::visit(
        [&]<class T>(const Image<T> &own) {
            Image<T> pixels = own.clone();
            std::vector<uint16_t> codes(size_t(area.width()) + kRowRun);
            std::vector<float> linear(codes.size());
            for (int c = 0; c < 3; ++c)
                for (int y = area.y0; y < area.y1; ++y) {
                    std::copy_n(light.row(c, y), area.width(), linear.begin());
                    encodeRow(photo.profile, size_t(c), int(8 * sizeof(T)), linear.data(),
                              area.width(), codes.data());
                    for (int x = 0; x < area.width(); ++x)
                        if (where[size_t(y - area.y0) * size_t(area.width()) + size_t(x)])
                            pixels.pixel(area.x0 + x, y)[c] = T(codes[size_t(x)]);
                }
            out->pixels = std::move(pixels);
        },
        photo.pixels);
    return out;
}

} // namespace buttonhole
