#include "tone/grey_mix.h"

#include "base/content.h"

#include <cmath>

namespace buttonhole
{

namespace
{

/// "points go from left to right", each within 0..1.
Result<void> checkCurve(const std::vector<CurvePoint> &curve)
{
    float last = -1;
    for (const CurvePoint &point : curve) {
        for (const float v : {point.x, point.y})
            if (!(v >= 0 && v <= 1))
                return Error{ErrorKind::InvalidArgument, "tone.curve", expectedNumber(0, 1)};
        if (point.x <= last)
            return Error{ErrorKind::InvalidArgument, "tone.curve",
                         "points must go from left to right"};
        last = point.x;
    }
    return {};
}

constexpr Param<HuePoint> kHuePointParams[] = {
    {"hue", [](HuePoint &p) -> float & { return p.hueDeg; }, 0, 360},
    {"value", [](HuePoint &p) -> float & { return p.value; }, -100, 100},
    {"width", [](HuePoint &p) -> float & { return p.widthDeg; }, kLeastHueWidth, 180}};

constexpr ParamScale kPercent{100, " %"};
constexpr ParamScale kPlain{};
constexpr ParamScale kHue{1, "°", 0, ParamScale::Way::Hues};
constexpr int kSince = 2; // the first version knew no grey but luminance

constexpr Param<GreyMix> kGreyParams[] = {
    {"blend.red", [](GreyMix &m) -> float & { return m.blend[0]; }, -2, 2, kSince, kPercent},
    {"blend.green", [](GreyMix &m) -> float & { return m.blend[1]; }, -2, 2, kSince, kPercent},
    {"blend.blue", [](GreyMix &m) -> float & { return m.blend[2]; }, -2, 2, kSince, kPercent},
    {"glass.strength", [](GreyMix &m) -> float & { return m.glassStrength; }, 0, 2, kSince,
     kPercent},
    {"tone.black", [](GreyMix &m) -> float & { return m.tone.black; }, 0, 0.5F, kSince, kPercent},
    {"tone.middle", [](GreyMix &m) -> float & { return m.tone.middle; }, 0.1F, 0.9F, kSince,
     kPercent},
    {"tone.white", [](GreyMix &m) -> float & { return m.tone.white; }, 0.5F, 1, kSince, kPercent},
    {"tone.contrast", [](GreyMix &m) -> float & { return m.tone.contrast; }, -100, 100, kSince,
     kPlain},
    {"tone.pivot", [](GreyMix &m) -> float & { return m.tone.pivot; }, 0.1F, 0.9F, kSince, {100}},
    {"tone.highlights", [](GreyMix &m) -> float & { return m.tone.highlights; }, -100, 100, kSince,
     kPlain},
    {"tone.shadows", [](GreyMix &m) -> float & { return m.tone.shadows; }, -100, 100, kSince,
     kPlain},
    {"tone.localContrast", [](GreyMix &m) -> float & { return m.tone.local; }, -100, 100, kSince,
     kPlain},
    {"tone.fineContrast", [](GreyMix &m) -> float & { return m.tone.fine; }, -100, 100, kSince,
     kPlain},
    {"toning.shadows.hue", [](GreyMix &m) -> float & { return m.toning.shadowHueDeg; }, 0, 360,
     kSince, kHue},
    {"toning.shadows.saturation", [](GreyMix &m) -> float & { return m.toning.shadowSaturation; },
     0, 100, kSince, kPlain},
    {"toning.highlights.hue", [](GreyMix &m) -> float & { return m.toning.highlightHueDeg; }, 0,
     360, kSince, kHue},
    {"toning.highlights.saturation",
     [](GreyMix &m) -> float & { return m.toning.highlightSaturation; }, 0, 100, kSince, kPlain},
    {"toning.balance", [](GreyMix &m) -> float & { return m.toning.balance; }, -100, 100, kSince,
     kPlain},
    {"colourLeft", [](GreyMix &m) -> float & { return m.colourLeft; }, 0, 1, kSince, kPercent},
    {"strength", [](GreyMix &m) -> float & { return m.strength; }, 0, 1, kSince, kPercent}};

} // namespace

bool Tone::isPlainCurve() const
{
    return black == 0 && middle == 0.5F && white == 1 && contrast == 0 && highlights == 0 &&
           shadows == 0 && curve.empty();
}

uint64_t GreyMix::colourContent() const
{
    uint64_t out = joinedContent(uint64_t(base), {glass == Glass::None ? 0.0F : glassStrength});
    out = joinedContent(out, uint64_t(glass));
    if (base == Base::Blend) {
        const auto used = effectiveBlend(*this);
        out = joinedContent(out, {used[0], used[1], used[2]});
    }
    for (const HuePoint &point : hue)
        out = joinedContent(out, {point.hueDeg, point.value, point.widthDeg});
    return out;
}

uint64_t GreyMix::greyContent() const
{
    uint64_t out = contentOf(*this, greyParams(), colourContent(), "tone.");
    for (const CurvePoint &point : tone.curve)
        out = joinedContent(out, {point.x, point.y});
    return joinedContent(out, {float(tone.curve.size()), strength});
}

uint64_t GreyMix::content() const
{
    const uint64_t toned = contentOf(*this, greyParams(), greyContent(), "toning.");
    return joinedContent(joinedContent(toned, uint64_t(toning.overKeeps)), {colourLeft});
}

bool GreyMix::isPlain() const
{
    if (strength <= 0)
        return true;
    return base == Base::Luminance && hue.empty() && glass == Glass::None && tone.isPlainCurve() &&
           !hasMargin();
}

std::span<const Param<GreyMix>> greyParams()
{
    return kGreyParams;
}

Result<void> check(const GreyMix &mix)
{
    if (auto fine = checkParams(mix, greyParams()); !fine)
        return fine;
    for (const HuePoint &point : mix.hue)
        if (auto fine =
                checkParams(point, std::span<const Param<HuePoint>>(kHuePointParams), "hueCurve.");
            !fine)
            return fine;
    if (mix.tone.white - mix.tone.black < 0.01F)
        return Error{ErrorKind::InvalidArgument, "tone.black", "it must be below tone.white"};
    return checkCurve(mix.tone.curve);
}

std::array<float, 3> effectiveBlend(const GreyMix &mix)
{
    const float sum = mix.blend[0] + mix.blend[1] + mix.blend[2];
    if (!mix.keepsTotal || std::abs(sum) < 0.05F)
        return mix.blend;
    return {mix.blend[0] / sum, mix.blend[1] / sum, mix.blend[2] / sum};
}

} // namespace buttonhole
