#include "tone/grey_mix.h"

#include "base/content.h"
#include "base/limits.h"

#include <cmath>

namespace buttonhole
{

namespace
{

uint64_t contentOf(const Tone &tone)
{
    uint64_t out = joinedContent(tone.curve.size(),
                                 {tone.black, tone.middle, tone.white, tone.contrast, tone.pivot,
                                  tone.highlights, tone.shadows, tone.local, tone.fine});
    for (const CurvePoint &point : tone.curve)
        out = joinedContent(out, {point.x, point.y});
    return out;
}

uint64_t contentOf(const Toning &toning)
{
    return joinedContent(uint64_t(toning.overKeeps),
                         {toning.shadowHueDeg, toning.shadowSaturation, toning.highlightHueDeg,
                          toning.highlightSaturation, toning.balance});
}

Result<void> checkTone(const Tone &tone)
{
    if (auto fine = checkLimits({{"tone.black", tone.black, 0, 0.5F},
                                 {"tone.middle", tone.middle, 0.1F, 0.9F},
                                 {"tone.white", tone.white, 0.5F, 1},
                                 {"tone.contrast", tone.contrast, -100, 100},
                                 {"tone.pivot", tone.pivot, 0.1F, 0.9F},
                                 {"tone.highlights", tone.highlights, -100, 100},
                                 {"tone.shadows", tone.shadows, -100, 100},
                                 {"tone.local", tone.local, -100, 100},
                                 {"tone.fine", tone.fine, -100, 100}});
        !fine)
        return fine;
    if (tone.white - tone.black < 0.01F)
        return Error{ErrorKind::InvalidArgument, "tone.black", "it must be below tone.white"};
    float last = -1;
    for (const CurvePoint &point : tone.curve) {
        if (auto fine = checkLimits({{"tone.curve", point.x, 0, 1}, {"tone.curve", point.y, 0, 1}});
            !fine)
            return fine;
        if (point.x <= last)
            return Error{ErrorKind::InvalidArgument, "tone.curve",
                         "points must go from left to right"};
        last = point.x;
    }
    return {};
}

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
    return joinedContent(joinedContent(colourContent(), contentOf(tone)), {strength});
}

uint64_t GreyMix::content() const
{
    return joinedContent(joinedContent(greyContent(), contentOf(toning)), {colourLeft});
}

bool GreyMix::isPlain() const
{
    if (strength <= 0)
        return true;
    return base == Base::Luminance && hue.empty() && glass == Glass::None && tone.isPlainCurve() &&
           !hasMargin();
}

Result<void> check(const GreyMix &mix)
{
    const Toning &t = mix.toning;
    if (auto fine = checkLimits({{"blend.red", mix.blend[0], -2, 2},
                                 {"blend.green", mix.blend[1], -2, 2},
                                 {"blend.blue", mix.blend[2], -2, 2},
                                 {"glass.strength", mix.glassStrength, 0, 2},
                                 {"colourLeft", mix.colourLeft, 0, 1},
                                 {"strength", mix.strength, 0, 1},
                                 {"toning.shadows.hue", t.shadowHueDeg, 0, 360},
                                 {"toning.shadows.saturation", t.shadowSaturation, 0, 100},
                                 {"toning.highlights.hue", t.highlightHueDeg, 0, 360},
                                 {"toning.highlights.saturation", t.highlightSaturation, 0, 100},
                                 {"toning.balance", t.balance, -100, 100}});
        !fine)
        return fine;
    for (const HuePoint &point : mix.hue)
        if (auto fine = checkLimits({{"hueCurve.hue", point.hueDeg, 0, 360},
                                     {"hueCurve.value", point.value, -100, 100},
                                     {"hueCurve.width", point.widthDeg, kLeastHueWidth, 180}});
            !fine)
            return fine;
    return checkTone(mix.tone);
}

std::string summaryOf(const GreyMix &mix)
{
    const std::string share =
        mix.strength < 1 ? ", " + std::to_string(std::lround(mix.strength * 100)) + " %" : "";
    if (!mix.look.empty())
        return mix.look + share;
    if (mix.isPlain())
        return mix.isTinted() ? "luminance, tinted" : "luminance";
    constexpr const char *kWords[] = {"luminance", "lightness", "average", "extremes", "blend"};
    const bool isOnlyBase = mix.hue.empty() && mix.glass == Glass::None && mix.tone == Tone();
    return std::string(isOnlyBase ? kWords[size_t(mix.base)] : "own mix") + share;
}

std::array<float, 3> effectiveBlend(const GreyMix &mix)
{
    const float sum = mix.blend[0] + mix.blend[1] + mix.blend[2];
    if (!mix.keepsTotal || std::abs(sum) < 0.05F)
        return mix.blend;
    return {mix.blend[0] / sum, mix.blend[1] / sum, mix.blend[2] / sum};
}

} // namespace buttonhole
