#include "document/finish_starts.h"

#include "light/frame.h"
#include "light/grain.h"
#include "light/tone_colours.h"
#include "light/vignette.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

template <class Values>
AdjustmentRef lineOf(const Values &values)
{
    return std::make_shared<const NumberAdjustment<Values>>(values);
}

AdjustmentRef makePassePartout()
{
    Frame frame;
    frame.width = 0.12F;
    frame.moreBelow = 0.03F;
    frame.lightness = 0.96F;
    frame.colour = 0.06F;
    frame.hueDeg = 85;
    frame.lineWidth = 0.0015F;
    frame.lineGap = 0.012F;
    frame.lineLightness = 0.65F;
    frame.shadow = -0.35F;
    frame.shadowSize = 0.006F;
    return lineOf(frame);
}

AdjustmentRef makeThinLine()
{
    Frame frame;
    frame.lineWidth = 0.002F;
    frame.lineGap = -0.025F;
    frame.lineLightness = 0.95F;
    return lineOf(frame);
}

constexpr FinishStart kFinishStarts[] = {
    {"vignette", [] { return lineOf(Vignette{.amount = -0.3F}); }, true},
    {"grain", [] { return lineOf(Grain{.amount = 0.25F}); }, true},
    {"toneColours", [] { return lineOf(ToneColours{.strength = 0.6F}); }, true},
    {"negative", [] { return lineOf(ToneColours{.negative = 1}); }},
    {"border", [] { return lineOf(Frame{.width = 0.05F}); }},
    {"passePartout", makePassePartout},
    {"blackEdge", [] { return lineOf(Frame{.width = 0.012F, .lightness = 0.05F}); }},
    {"thinLine", makeThinLine},
    {"signature", [] { return AdjustmentRef(std::make_shared<const Signature>()); }, true},
    {"corners", [] { return lineOf(Frame{.corners = 0.06F}); }}};

} // namespace

std::span<const FinishStart> finishStarts()
{
    return kFinishStarts;
}

Result<Take> withFinishStart(Take take, std::string_view start, uint64_t *lineId)
{
    std::string known;
    for (const FinishStart &each : kFinishStarts) {
        known += (known.empty() ? "" : ", ") + std::string(each.id);
        if (each.id != start)
            continue;
        const AdjustmentRef made = each.make();
        const auto line =
            std::find_if(take.finish.begin(), take.finish.end(), [&](const AdjustmentLine &at) {
                return at.adjustment->kind() == made->kind();
            });
        if (line == take.finish.end())
            return withFinished(std::move(take), made, lineId);
        if (!each.isItsKinds)
            line->adjustment = made;
        line->on = true;
        if (lineId)
            *lineId = line->id;
        return take;
    }
    return Error{ErrorKind::NotFound, "finish \"" + std::string(start) + "\"",
                 "there are: " + known};
}

Take withSignature(Take take, SignatureWords words, uint64_t *lineId)
{
    SignaturePlace place;
    for (const AdjustmentLine &line : take.finish)
        if (const auto *signature = dynamic_cast<const Signature *>(line.adjustment.get()))
            place = signature->place();
    const auto made = std::make_shared<const Signature>(std::move(words), place);
    uint64_t id = 0;
    take = withFinished(std::move(take), made, &id);
    if (lineId)
        *lineId = id;
    return withLine(std::move(take), id, [](AdjustmentLine &line) { line.on = true; });
}

} // namespace buttonhole
