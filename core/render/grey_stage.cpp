#include "render/grey_stage.h"

#include "raster/parallel_tiles.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

uint64_t contentOf(const GreyMix &mix, const Source *prepared)
{
    return prepared ? joinedContent(mix.content(), prepared->content()) : mix.content();
}

uint64_t contentOf(const GreyMix &mix, Reach reach, const Source *prepared)
{
    const uint64_t content = joinedContent(mix.colourContent(), uint64_t(reach));
    return prepared ? joinedContent(content, prepared->content()) : content;
}

std::shared_ptr<const DetailPlane> makePlane(const PhotoLevels &levels, const GreyMix &mix,
                                             Reach reach, const Source *prepared)
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
                std::optional<LightTile> light;
                if (prepared) {
                    light.emplace(tile);
                    if (!prepared->read(level, *light, {}))
                        light.reset(); // the render that asks for it fails of itself
                }
                for (int y = tile.y0; y < tile.y1; ++y) {
                    const RowPlace place{tile.x0, y, level};
                    if (light)
                        mixer.greyRow(light->row(0, y), light->row(1, y), light->row(2, y),
                                      tile.width(), place, grey);
                    else
                        mixer.greyRow(source.pixel(tile.x0, y), tile.width(), place, grey);
                    lightnessRow(grey, tile.width(), grey);
                    std::copy_n(grey, tile.width(), lightness.pixel(tile.x0, y));
                }
            });
        },
        levels.level(level));
    return std::make_shared<const DetailPlane>(reach, lightness, levels.photo().width,
                                               levels.photo().height);
}

/// Under this the latest plane is kept, whatever it was made from: what drafts measure against.
uint64_t latestOf(Reach reach)
{
    return joinedContent(0x1A7E57, uint64_t(reach));
}

using Plane = std::shared_ptr<const DetailPlane>;

Plane peekPlane(const PhotoLevels &levels, const GreyMix &mix, Reach reach, const Source *prepared)
{
    return std::static_pointer_cast<const DetailPlane>(
        levels.memo().peek(contentOf(mix, reach, prepared)));
}

} // namespace

std::shared_ptr<const GreyMixer> findGreyMixer(const PhotoLevels &levels, const GreyMix &mix,
                                               const Source *prepared)
{
    const auto plane = [&](Reach reach, float amount) {
        if (amount == 0 || !mix.hasMargin())
            return Plane();
        const auto found =
            levels.memo().find(contentOf(mix, reach, prepared), [&]() -> Memo::Value {
                return makePlane(levels, mix, reach, prepared);
            });
        levels.memo().put(latestOf(reach), found);
        return std::static_pointer_cast<const DetailPlane>(found);
    };
    const auto make = [&]() -> Memo::Value {
        return std::make_shared<const GreyMixer>(
            mix, levels.colour(),
            DetailPlanes{plane(Reach::Local, mix.tone.local), plane(Reach::Fine, mix.tone.fine)});
    };
    return std::static_pointer_cast<const GreyMixer>(
        levels.memo().find(contentOf(mix, prepared), make));
}

std::shared_ptr<const GreyMixer> draftGreyMixer(const PhotoLevels &levels, const GreyMix &mix,
                                                const Source *prepared)
{
    if (isGreyReady(levels, mix, prepared))
        return findGreyMixer(levels, mix, prepared);
    const auto plane = [&](Reach reach, float amount) {
        if (amount == 0)
            return Plane();
        const Plane exact = peekPlane(levels, mix, reach, prepared);
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
        levels.memo().find(joinedContent(contentOf(mix, prepared), kDraft), make));
}

bool isGreyReady(const PhotoLevels &levels, const GreyMix &mix, const Source *prepared)
{
    if (!mix.hasMargin())
        return true;
    return (mix.tone.local == 0 || peekPlane(levels, mix, Reach::Local, prepared)) &&
           (mix.tone.fine == 0 || peekPlane(levels, mix, Reach::Fine, prepared));
}

} // namespace buttonhole
