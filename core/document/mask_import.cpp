#include "document/mask_import.h"

#include "io/photo.h"

namespace buttonhole
{

Result<std::shared_ptr<const StepShape>> loadMaskPicture(const std::string &path, int width,
                                                         int height, const Run &run)
{
    auto picture = loadPhoto(path, run);
    if (!picture)
        return picture.error();
    if (picture->width != width || picture->height != height)
        return Error{ErrorKind::InvalidArgument, path,
                     "it is " + std::to_string(picture->width) + " x " +
                         std::to_string(picture->height) + ", the photo " + std::to_string(width) +
                         " x " + std::to_string(height)};
    MaskPlane plane(width, height);
    std::visit(
        [&](const auto &image) {
            const int factor = sizeof(image.row(0)[0]) == 1 ? 257 : 1;
            parallelTiles(image.rect(), [&](const Rect &tile) {
                const int tx = tile.x0 / kTileSize;
                const int ty = tile.y0 / kTileSize;
                uint16_t *pixels = plane.writable(tx, ty);
                for (int y = tile.y0; y < tile.y1; ++y)
                    for (int x = tile.x0; x < tile.x1; ++x)
                        pixels[size_t(y - ty * kTileSize) * kTileSize +
                               size_t(x - tx * kTileSize)] =
                            uint16_t(image.pixel(x, y)[1] * factor);
            });
        },
        picture->pixels);
    plane.compact(plane.rect());
    return std::shared_ptr<const StepShape>(std::make_shared<PictureStep>(std::move(plane)));
}

} // namespace buttonhole
