#include "render/grey_stage.h"

#include "raster/parallel_tiles.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

std::shared_ptr<const DetailPlane> makePlane(const PhotoLevels &levels, const GreyMix &mix,
                                             Reach reach)
{
    int level = 0;
    const auto longEdge = [&](int n) { return std::max(levels.rectOf(n).x1, levels.rectOf(n).y1); };
    while (level + 1 < levels.count() && longEdge(level) > DetailPlane::longEdge(reach))
        ++level;
    const Rect area = levels.rectOf(level);
    GreyMix colourOnly = mix;
    colourOnly.tone = {};
    colourOnly.strength = 1;
    const GreyMixer mixer(colourOnly, levels.colour());
    Image<float> lightness(area.x1, area.y1, 1);
    std::visit(
        [&](const auto &source) {
            parallelTiles(area, [&](const Rect &tile) {
                alignas(64) float grey[kRowRun + 64];
                for (int y = tile.y0; y < tile.y1; ++y) {
                    mixer.greyRow(source.pixel(tile.x0, y), tile.width(), {tile.x0, y, level},
                                  grey);
                    lightnessRow(grey, tile.width(), grey);
                    std::copy_n(grey, tile.width(), lightness.pixel(tile.x0, y));
                }
            });
        },
        levels.level(level));
    return std::make_shared<const DetailPlane>(reach, lightness, levels.photo().width,
                                               levels.photo().height);
}

} // namespace

std::shared_ptr<const GreyMixer> findGreyMixer(const PhotoLevels &levels, const GreyMix &mix)
{
    const auto plane = [&](Reach reach, float amount) {
        if (amount == 0 || !mix.hasMargin())
            return std::shared_ptr<const DetailPlane>();
        const uint64_t content = joinedContent(mix.colourContent(), uint64_t(reach));
        return std::static_pointer_cast<const DetailPlane>(
            levels.memo().find(content, [&]() -> std::shared_ptr<const void> {
                return makePlane(levels, mix, reach);
            }));
    };
    return std::static_pointer_cast<const GreyMixer>(
        levels.memo().find(mix.content(), [&]() -> std::shared_ptr<const void> {
            return std::make_shared<const GreyMixer>(
                mix, levels.colour(),
                DetailPlanes{plane(Reach::Local, mix.tone.local),
                             plane(Reach::Fine, mix.tone.fine)});
        }));
}

} // namespace buttonhole
