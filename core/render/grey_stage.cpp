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
    const int level = levels.levelWithin(DetailPlane::longEdge(reach));
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

uint64_t contentOf(const GreyMix &mix, Reach reach)
{
    return joinedContent(mix.colourContent(), uint64_t(reach));
}

/// Under this the latest plane is kept, whatever it was made from: what drafts measure against.
uint64_t latestOf(Reach reach)
{
    return joinedContent(0x1A7E57, uint64_t(reach));
}

using Plane = std::shared_ptr<const DetailPlane>;

Plane peekPlane(const PhotoLevels &levels, const GreyMix &mix, Reach reach)
{
    return std::static_pointer_cast<const DetailPlane>(levels.memo().peek(contentOf(mix, reach)));
}

} // namespace

std::shared_ptr<const GreyMixer> findGreyMixer(const PhotoLevels &levels, const GreyMix &mix)
{
    const auto plane = [&](Reach reach, float amount) {
        if (amount == 0 || !mix.hasMargin())
            return Plane();
        const auto found = levels.memo().find(
            contentOf(mix, reach), [&]() -> Memo::Value { return makePlane(levels, mix, reach); });
        levels.memo().put(latestOf(reach), found);
        return std::static_pointer_cast<const DetailPlane>(found);
    };
    const auto make = [&]() -> Memo::Value {
        return std::make_shared<const GreyMixer>(
            mix, levels.colour(),
            DetailPlanes{plane(Reach::Local, mix.tone.local), plane(Reach::Fine, mix.tone.fine)});
    };
    return std::static_pointer_cast<const GreyMixer>(levels.memo().find(mix.content(), make));
}

std::shared_ptr<const GreyMixer> draftGreyMixer(const PhotoLevels &levels, const GreyMix &mix)
{
    if (isGreyReady(levels, mix))
        return findGreyMixer(levels, mix);
    const auto plane = [&](Reach reach, float amount) {
        if (amount == 0)
            return Plane();
        const Plane exact = peekPlane(levels, mix, reach);
        return exact ? exact
                     : std::static_pointer_cast<const DetailPlane>(
                           levels.memo().peek(latestOf(reach)));
    };
    const auto make = [&]() -> Memo::Value {
        return std::make_shared<const GreyMixer>(
            mix, levels.colour(),
            DetailPlanes{plane(Reach::Local, mix.tone.local), plane(Reach::Fine, mix.tone.fine)},
            newContent());
    };
    constexpr uint64_t kDraft = 0xD4AF7;
    return std::static_pointer_cast<const GreyMixer>(
        levels.memo().find(joinedContent(mix.content(), kDraft), make));
}

bool isGreyReady(const PhotoLevels &levels, const GreyMix &mix)
{
    if (!mix.hasMargin())
        return true;
    return (mix.tone.local == 0 || peekPlane(levels, mix, Reach::Local)) &&
           (mix.tone.fine == 0 || peekPlane(levels, mix, Reach::Fine));
}

} // namespace buttonhole
