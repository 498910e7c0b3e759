#include "mask/keep.h"

#include <algorithm>

namespace buttonhole
{

const Step *Keep::findStep(uint64_t stepId) const
{
    const auto it =
        std::find_if(steps.begin(), steps.end(), [&](const Step &s) { return s.id == stepId; });
    return it == steps.end() ? nullptr : &*it;
}

void foldedMask(const Keep &keep, int level, const Rect &area, uint16_t *out)
{
    const size_t n = area.area();
    std::fill_n(out, n, uint16_t(0));
    std::vector<uint16_t> limits;
    for (const Step &step : keep.steps) {
        if (!step.on || !step.shape->isUnderstood())
            continue;
        limits.resize(2 * n);
        const auto effect = step.shape->coverage(level, area, limits.data(), limits.data() + n);
        foldStep(step.sign, effect, limits.data(), limits.data() + n, out, n);
    }
    if (keep.invert)
        for (size_t i = 0; i < n; ++i)
            out[i] = uint16_t(65535 - out[i]);
}

uint64_t foldedContent(const Keep &keep)
{
    uint64_t content = keep.invert ? 1 : 0;
    for (const Step &step : keep.steps)
        if (step.on && step.shape->isUnderstood())
            content =
                joinedContent(joinedContent(content, step.shape->content()), uint64_t(step.sign));
    return content;
}

void applyStrength(float strength, uint16_t *mask, size_t n)
{
    if (strength < 1.0F)
        for (size_t i = 0; i < n; ++i)
            mask[i] = uint16_t(float(mask[i]) * strength + 0.5F);
}

void keepMask(const Keep &keep, int level, const Rect &area, uint16_t *out)
{
    foldedMask(keep, level, area, out);
    applyStrength(keep.strength, out, area.area());
}

} // namespace buttonhole
