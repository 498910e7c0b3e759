#include "document/local_tone.h"

namespace buttonhole
{

namespace
{

constexpr Param<LocalTone> kOwn[] = {
    {"strength", [](LocalTone &t) -> float & { return t.strength; }, 0, 1, 7, {100, " %"}}};

} // namespace

std::span<const Param<LocalTone>> localToneParams()
{
    static constexpr auto kRows = joinedRows(kOwn, maskRows<LocalTone>());
    return kRows;
}

int reachPx(const LocalTone &tone)
{
    int reach = reachPx(static_cast<const Mask &>(tone));
    for (const AdjustmentRef &effect : tone.effects)
        reach += effect->reachPx();
    return reach;
}

} // namespace buttonhole
