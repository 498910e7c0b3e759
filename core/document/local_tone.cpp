#include "document/local_tone.h"

namespace buttonhole
{

std::span<const Param<LocalTone>> localToneParams()
{
    static constexpr auto kRows = maskedLineRows<LocalTone>();
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
