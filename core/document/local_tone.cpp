#include "document/local_tone.h"

namespace buttonhole
{

std::span<const Param<LocalTone>> localToneParams()
{
    static constexpr auto kRows = maskedLineRows<LocalTone>();
    return kRows;
}

std::string_view toWord(ActsOn actsOn)
{
    constexpr std::string_view kWords[] = {"all", "grey", "kept"};
    return kWords[int(actsOn)];
}

Result<ActsOn> actsOnFromWord(std::string_view word)
{
    for (const ActsOn each : {ActsOn::All, ActsOn::Grey, ActsOn::Kept})
        if (word == toWord(each))
            return each;
    return Error{ErrorKind::InvalidArgument, "actsOn", "all, grey or kept is expected"};
}

int reachPx(const LocalTone &tone)
{
    int reach = reachPx(static_cast<const Mask &>(tone));
    for (const AdjustmentRef &effect : tone.effects)
        reach += effect->reachPx();
    return reach;
}

} // namespace buttonhole
