#include "mask/keep.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

const Step *Keep::findStep(uint64_t stepId) const
{
    const auto it =
        std::find_if(steps.begin(), steps.end(), [&](const Step &s) { return s.id == stepId; });
    return it == steps.end() ? nullptr : &*it;
}

void keepMask(const Keep &keep, int level, const Rect &area, uint16_t *out)
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
    if (keep.strength < 1.0F)
        for (size_t i = 0; i < n; ++i)
            out[i] = uint16_t(float(out[i]) * keep.strength + 0.5F);
}

} // namespace buttonhole
