#include "mask/keep.h"

#include "base/limits.h"
#include "mask/mask_filter.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

/// Wider than this, in px of its level, a Gaussian is made one level up.
constexpr float kMostSigma = 6;
/// Less does not show.
constexpr float kLeastSigma = 0.15F;

Rect widened(const Rect &area, int by, const Rect &picture)
{
    return intersected({area.x0 - by, area.y0 - by, area.x1 + by, area.y1 + by}, picture);
}

/// The folded mask, grown.
void grownMask(const PhotoLevels &levels, const Keep &keep, int level, MaskPart &out,
               const FoldedSource &folded)
{
    const float radius = keep.growPx / float(1 << level);
    if (radius == 0) {
        folded(level, out.area, out.values.data());
        return;
    }
    MaskPart part(widened(out.area, growMargin(radius), levels.rectOf(level)));
    folded(level, part.area, part.values.data());
    grow(part, radius);
    const int width = out.area.width();
    for (int y = out.area.y0; y < out.area.y1; ++y)
        std::copy_n(part.values.data() + size_t(y - part.area.y0) * size_t(part.area.width()) +
                        size_t(out.area.x0 - part.area.x0),
                    width, out.values.data() + size_t(y - out.area.y0) * size_t(width));
}

} // namespace

const Step *Keep::findStep(uint64_t stepId) const
{
    const auto it =
        std::find_if(steps.begin(), steps.end(), [&](const Step &s) { return s.id == stepId; });
    return it == steps.end() ? nullptr : &*it;
}

bool Keep::needsLevels() const
{
    return featherPx > 0 || std::any_of(steps.begin(), steps.end(), [](const Step &step) {
               return step.on && step.shape->needsLevels();
           });
}

Result<void> check(const Keep &keep)
{
    if (auto fine = checkLimits({{"strength", keep.strength, 0, 1},
                                 {"grow", keep.growPx, -kMostGrowPx, kMostGrowPx},
                                 {"feather", keep.featherPx, 0, kMostFeatherPx}});
        !fine)
        return fine;
    return check(keep.look);
}

int reachPx(const Keep &keep)
{
    if (!keep.hasMargin())
        return 0;
    // Feathering on a coarser level reads whole pixels of it.
    return growMargin(keep.growPx) + int(std::ceil(keep.featherPx * 3.6F)) + 2;
}

void foldedMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                uint16_t *out)
{
    const size_t n = area.area();
    std::fill_n(out, n, uint16_t(0));
    std::vector<uint16_t> limits;
    for (const Step &step : keep.steps) {
        if (!step.on || !step.shape->isUnderstood())
            continue;
        limits.resize(2 * n);
        const auto effect =
            step.shape->coverage(levels, level, area, limits.data(), limits.data() + n);
        foldStep(step.sign, effect, limits.data(), limits.data() + n, out, n);
    }
}

uint64_t foldedContent(const Keep &keep)
{
    uint64_t content = 0;
    for (const Step &step : keep.steps)
        if (step.on && step.shape->isUnderstood())
            content =
                joinedContent(joinedContent(content, step.shape->content()), uint64_t(step.sign));
    return content;
}

void shapedMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
                uint16_t *out, const FoldedSource &folded)
{
    float sigma = keep.featherPx / float(1 << level);
    int steps = 0;
    while (sigma > kMostSigma && level + steps + 1 < levels.count()) {
        sigma /= 2;
        ++steps;
    }
    const size_t n = area.area();
    if (sigma < kLeastSigma) {
        MaskPart part(area);
        grownMask(levels, keep, level, part, folded);
        std::copy_n(part.values.data(), n, out);
    } else {
        const int coarse = level + steps;
        // One pixel more on each side: enlarging reads between the centres of its neighbours.
        MaskPart part(
            widened(atLevel(area, steps), featherMargin(sigma) + 1, levels.rectOf(coarse)));
        grownMask(levels, keep, coarse, part, folded);
        feather(part, sigma);
        enlarge(part, steps, area, out);
    }
    if (keep.invert)
        for (size_t i = 0; i < n; ++i)
            out[i] = uint16_t(65535 - out[i]);
}

uint64_t shapedContent(const Keep &keep)
{
    return joinedContent(joinedContent(foldedContent(keep), {keep.growPx, keep.featherPx}),
                         uint64_t(keep.invert));
}

void applyStrength(float strength, uint16_t *mask, size_t n)
{
    if (strength < 1.0F)
        for (size_t i = 0; i < n; ++i)
            mask[i] = uint16_t(float(mask[i]) * strength + 0.5F);
}

void keepMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
              uint16_t *out)
{
    shapedMask(levels, keep, level, area, out, [&](int at, const Rect &part, uint16_t *to) {
        foldedMask(levels, keep, at, part, to);
    });
    applyStrength(keep.strength, out, area.area());
}

} // namespace buttonhole
