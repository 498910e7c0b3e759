#include "export/small_picture.h"

#include "export/area_reducer.h"
#include "export/strips.h"
#include "io/jpeg.h"
#include "render/render.h"

#include <cmath>

namespace buttonhole
{

std::pair<int, int> outputSize(std::pair<int, int> own, int longEdgePx)
{
    const auto [width, height] = own;
    const int longEdge = std::max(width, height);
    if (longEdgePx <= 0 || longEdgePx >= longEdge)
        return own;
    const double scale = double(longEdgePx) / longEdge;
    return {std::max(1, int(std::lround(width * scale))),
            std::max(1, int(std::lround(height * scale)))};
}

Result<Image<uint8_t>> renderSmall(const PhotoLevels &levels, const Take &take, int longEdgePx)
{
    const PictureMap map = pictureOf(levels, take);
    const auto [width, height] = outputSize({map.rect().width(), map.rect().height()}, longEdgePx);
    const auto longEdgeAt = [&](int level) {
        return std::max(map.rect(level).width(), map.rect(level).height());
    };
    int level = 0;
    while (level + 1 < levels.count() && longEdgeAt(level + 1) >= longEdgePx)
        ++level;
    const PictureRect area = map.rect(level);
    const OutputColour output(Profile::srgb());
    AreaReducer reducer(area.width(), area.height(), width, height, output.profile);
    Image<uint8_t> out(width, height, 3);
    int row = 0;
    const auto emit = [&](const uint16_t *codes) {
        for (size_t i = 0; i < out.stride(); ++i)
            out.row(row)[i] = uint8_t((uint32_t(codes[i]) * 255U + 32767U) / 65535U);
        ++row;
    };
    const size_t perRow = size_t(area.width()) * 3;
    std::vector<uint16_t> strip(perRow * kStripRows);
    for (int y = area.y0; y < area.y1; y = stripEnd(y, area)) {
        const int rows = stripEnd(y, area) - y;
        const RenderTarget target{RenderTarget::Layout::Rgb16, strip.data(), perRow * 2};
        if (auto done = renderPicture(levels, take, View::Result, level,
                                      {area.x0, y, area.x1, y + rows}, output, target);
            !done)
            return done.error();
        for (int i = 0; i < rows; ++i)
            reducer.addRow(strip.data() + size_t(i) * perRow, emit);
    }
    return out;
}

Result<std::vector<uint8_t>> makePreviewJpeg(const PhotoLevels &levels, const Take &take,
                                             int longEdgePx)
{
    const auto small = renderSmall(levels, take, longEdgePx);
    if (!small)
        return small.error();
    PictureSpec spec;
    spec.width = small->width();
    spec.height = small->height();
    spec.quality = 85;
    return encodeJpeg(*small, spec);
}

} // namespace buttonhole
