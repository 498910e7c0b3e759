#include "mask/keep.h"

#include <algorithm>

namespace buttonhole
{

bool hasDraft(const Keep &keep)
{
    return keep.isCleaned() || !keep.softBand().isNone() || keep.spillShare() > 0;
}

Keep draftOf(const Keep &keep)
{
    Keep out = keep;
    out.specksPx = out.holesPx = out.softEdgePx = out.spill = 0;
    out.softEdgeFound = false;
    for (Step &step : out.steps)
        step.on = step.on && !isMark(step.sign);
    return out;
}

namespace
{

using Way = ParamScale::Way;
constexpr ParamScale kPercent{100, " %"};

constexpr Param<Keep> kOwn[] = {
    {"spill", [](Keep &k) -> float & { return k.spill; }, 0, 1, 4, kPercent},
    {"look.hueShiftDeg",
     [](Keep &k) -> float & { return k.look.hueShiftDeg; },
     -180,
     180,
     3,
     {1, "°"}},
    {"look.saturation", [](Keep &k) -> float & { return k.look.saturation; }, 0, 2, 3, kPercent},
    {"look.lightness", [](Keep &k) -> float & { return k.look.lightness; }, -1, 1, 3, {100}},
    {"look.warmth", [](Keep &k) -> float & { return k.look.warmth; }, -1, 1, 3, {100}},
    {"look.tint", [](Keep &k) -> float & { return k.look.tint; }, 0, 1, 3, kPercent},
    {"look.tintHueDeg",
     [](Keep &k) -> float & { return k.look.tintHueDeg; },
     0,
     360,
     3,
     {1, "°", 0, Way::Hues}},
    {"look.stray", [](Keep &k) -> float & { return k.look.stray; }, 0, 1, 11, kPercent},
    {"look.strayHueDeg",
     [](Keep &k) -> float & { return k.look.strayHueDeg; },
     0,
     360,
     11,
     {1, "°", 0, Way::Hues}},
    {"look.strayRangeDeg",
     [](Keep &k) -> float & { return k.look.strayRangeDeg; },
     0,
     180,
     11,
     {1, "°"}},
    {"glow.strength", [](Keep &k) -> float & { return k.glow.strength; }, 0, 2, 11, kPercent},
    {"glow.sizePx", [](Keep &k) -> float & { return k.glow.sizePx; }, 1, 60, 11, {1, " px"}},
    {"glow.ownColour", [](Keep &k) -> float & { return k.glow.ownColour; }, 0, 1, 11, kPercent},
    {"glow.hueDeg",
     [](Keep &k) -> float & { return k.glow.hueDeg; },
     0,
     360,
     11,
     {1, "°", 0, Way::Hues}},
    {"glow.lightens", [](Keep &k) -> float & { return k.glow.lightens; }, 0, 1, 11, kPercent}};

} // namespace

std::span<const Param<Keep>> keepParams()
{
    static constexpr auto kRows = joinedRows(kOwn, maskedLineRows<Keep>());
    return kRows;
}

uint64_t contentOf(const Keep &keep)
{
    uint64_t content = contentOf(keep, keepParams(), shapedContent(keep));
    for (const Step &step : keep.steps) // which the mask's content leaves out
        if (step.on && step.sign == Sign::Spill)
            content = joinedContent(content, step.shape->content());
    return content;
}

Result<void> check(const Keep &keep)
{
    return checkParams(keep, keepParams());
}

void keepMask(const PhotoLevels &levels, const Keep &keep, int level, const Rect &area,
              uint16_t *out)
{
    fullMask(levels, keep, level, area, out);
    applyStrength(keep.strength, out, area.area());
}

} // namespace buttonhole
