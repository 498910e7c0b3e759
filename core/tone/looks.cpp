#include "tone/looks.h"

#include <algorithm>
#include <cctype>

namespace buttonhole
{

namespace
{

using Base = GreyMix::Base;

Tone toneOf(float contrast, float shadows, float highlights, float local, float fine)
{
    Tone tone;
    tone.contrast = contrast;
    tone.shadows = shadows;
    tone.highlights = highlights;
    tone.local = local;
    tone.fine = fine;
    return tone;
}

GreyMix mixOf(Base base, Tone tone, std::vector<HuePoint> hue = {})
{
    GreyMix mix;
    mix.base = base;
    mix.tone = std::move(tone);
    mix.hue = std::move(hue);
    return mix;
}

GreyMix behindGlass(Glass glass, float strength, Tone tone)
{
    GreyMix mix = mixOf(Base::Luminance, std::move(tone));
    mix.glass = glass;
    mix.glassStrength = strength;
    return mix;
}

GreyMix blendOf(float red, float green, float blue, Tone tone)
{
    GreyMix mix = mixOf(Base::Blend, std::move(tone));
    mix.blend = {red, green, blue};
    return mix;
}

GreyMix toned(GreyMix mix, const Toning &toning)
{
    mix.toning = toning;
    return mix;
}

GreyMix withCurve(GreyMix mix, std::vector<CurvePoint> curve)
{
    mix.tone.curve = std::move(curve);
    return mix;
}

std::vector<Look> makeLooks()
{
    // OKLCh hues: reds 25, orange 55, yellow 105, green 145, cyan 195, blue 260, violet 310.
    std::vector<Look> out = {
        {"Linen", "light and even",
         mixOf(Base::Lightness, toneOf(-14, 38, 10, -10, 0), {{55, 22, 60}})},
        {"Calico", "plain, a little crisp", mixOf(Base::Luminance, toneOf(18, 0, 0, 12, 12))},
        {"Flannel", "soft, low contrast", mixOf(Base::Lightness, toneOf(-38, 20, -30, -28, -24))},
        {"Tweed", "coarse, textured", mixOf(Base::Average, toneOf(10, 12, 0, 42, 62))},
        {"Worsted", "smooth and deep", mixOf(Base::Luminance, toneOf(34, -18, 6, 16, -18))},
        {"Velvet", "dark, rich shadows",
         withCurve(mixOf(Base::Luminance, toneOf(20, -40, 0, 22, 0)),
                   {{0, 0}, {0.5F, 0.40F}, {1, 0.97F}})},
        {"Slate", "cool, heavy sky",
         toned(behindGlass(Glass::Orange, 0.8F, toneOf(24, 0, -12, 26, 10)),
               {250, 12, 240, 5, 0, false})},
        {"Indigo vat", "blues go deep",
         mixOf(Base::Luminance, toneOf(16, 0, 0, 18, 0), {{255, -78, 60}, {60, 20, 50}})},
        {"Madder", "reds shine",
         mixOf(Base::Luminance, toneOf(10, 8, 0, 14, 0), {{25, 70, 45}, {145, -30, 60}})},
        {"Weld", "yellows shine, blues sink",
         behindGlass(Glass::Yellow, 1.2F, toneOf(14, 6, 0, 14, 6))},
        {"Red lamp", "storm skies", behindGlass(Glass::Red, 1, toneOf(30, 10, 0, 30, 10))},
        {"Meadow", "fresh leaves, dark reds",
         behindGlass(Glass::Green, 1, toneOf(12, 12, 0, 12, 8))},
        {"Old plate", "blind to red",
         toned(blendOf(-0.10F, 0.30F, 0.80F, toneOf(16, 14, 14, 10, 8)),
               {68, 12, 80, 12, 0, false})},
        {"Ink", "black and white, little between",
         withCurve(mixOf(Base::Luminance, toneOf(62, 0, 0, 30, 10)),
                   {{0, 0}, {0.30F, 0.16F}, {0.70F, 0.86F}, {1, 1}})},
        {"Chalk", "pale, lifted blacks",
         withCurve(mixOf(Base::Lightness, toneOf(-10, 30, 16, 0, 0)),
                   {{0, 0.14F}, {0.5F, 0.60F}, {1, 1}})},
        {"Fibre print", "warm, long scale",
         toned(mixOf(Base::Luminance, toneOf(12, 16, -14, 20, 14)), {72, 14, 85, 9, 0, false})},
        {"Tea stain", "aged and brown",
         toned(mixOf(Base::Average, toneOf(-8, 22, -8, 8, 0)), {62, 44, 82, 36, -10, false})},
        {"Cyan bath", "blue print",
         toned(mixOf(Base::Luminance, toneOf(18, 0, 0, 14, 8)), {245, 58, 220, 26, 10, false})},
    };
    for (Look &look : out)
        look.mix.look = look.name;
    return out;
}

} // namespace

const std::vector<Look> &looks()
{
    static const std::vector<Look> all = makeLooks();
    return all;
}

const Look *findLook(std::string_view name)
{
    const auto same = [&](const Look &look) {
        return std::equal(
            name.begin(), name.end(), look.name.begin(), look.name.end(),
            [](unsigned char a, unsigned char b) { return std::tolower(a) == std::tolower(b); });
    };
    const auto it = std::find_if(looks().begin(), looks().end(), same);
    return it == looks().end() ? nullptr : &*it;
}

} // namespace buttonhole
