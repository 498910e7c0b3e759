#include "light/fine_light.h"

#include "light/guided_mean.h"
#include "light/lab_tile.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kLeastSigma = 0.3; ///< px of a level: less is nothing there
constexpr double kLightnessPx = 2;
constexpr double kColourPx = 5;

/// OKLab of an area, as planes; L alone where it is neutral.
struct LabPlanes {
    Plane L, a, b;
    bool isNeutral;

    LabPlanes(LightTile &light, const std::array<float, 9> &toLms) : isNeutral(light.isNeutral())
    {
        toLab(light, toLms);
        L = planeOf(light, 0);
        if (isNeutral)
            return;
        a = planeOf(light, 1);
        b = planeOf(light, 2);
    }

    /// The part of `out`, as light.
    void store(const Rect &area, LightTile &out, const std::array<float, 9> &fromLms) const
    {
        const Rect part = out.area();
        if (isNeutral)
            out.setNeutral();
        const Plane *const planes[] = {&L, &a, &b};
        for (int c = 0; c < out.planes(); ++c)
            for (int y = part.y0; y < part.y1; ++y)
                std::copy_n(planes[c]->row(y - area.y0) + (part.x0 - area.x0), part.width(),
                            out.row(c, y));
        fromLab(out, fromLms);
    }
};

int reachOf(double sigmaPx)
{
    return GuidedMean(sigmaPx).reach();
}

/// What sharpening adds to each lightness.
Plane sharper(const Plane &L, const GuidedMean &fine, float amount)
{
    constexpr float kEdge = 0.02F;   // variance
    constexpr float kNoise = 0.004F; // of L
    Plane out = fine.smoothed(L, L, kEdge);
    for (size_t i = 0; i < out.count(); ++i) {
        const float d = L.row(0)[i] - out.row(0)[i];
        out.row(0)[i] = amount * d * (d * d / (d * d + kNoise * kNoise));
    }
    return out;
}

void sharpen(LabPlanes &lab, const GuidedMean &fine, float amount)
{
    constexpr float kLeastL = 0.02F;
    const Plane added = sharper(lab.L, fine, amount);
    for (size_t i = 0; i < added.count(); ++i) {
        float &L = lab.L.row(0)[i];
        const float more = added.row(0)[i];
        const float made = std::max(L + more, 0.0F);
        const float scale = std::min(made / std::max(L, kLeastL), 2.0F);
        L = made;
        if (lab.isNeutral)
            continue;
        lab.a.row(0)[i] *= scale;
        lab.b.row(0)[i] *= scale;
    }
}

/// By the edges of both: colour may change where lightness does not.
Plane smoothedColour(const GuidedMean &mean, const Plane &colour, const Plane &L, float eps)
{
    Plane out = mean.smoothed(colour, colour, eps);
    const Plane byL = mean.smoothed(colour, L, eps);
    for (size_t i = 0; i < out.count(); ++i) { // whichever changes the photo less
        const float own = colour.row(0)[i];
        if (std::abs(byL.row(0)[i] - own) < std::abs(out.row(0)[i] - own))
            out.row(0)[i] = byL.row(0)[i];
    }
    return out;
}

void mix(Plane &into, const Plane &smooth, float share)
{
    for (size_t i = 0; i < into.count(); ++i)
        into.row(0)[i] += share * (smooth.row(0)[i] - into.row(0)[i]);
}

} // namespace

namespace
{

/// For a T that is sharpness.
template <class T>
std::span<const Param<T>> sharpnessRows()
{
    static constexpr Param<T> kRows[] = {
        {"amount", [](T &s) -> float & { return s.amount; }, 0, 2, T::kSince, {100}},
        {"radiusPx",
         [](T &s) -> float & { return s.radiusPx; },
         0.4F,
         5,
         T::kSince,
         {1, " px", 1}}};
    return kRows;
}

} // namespace

std::span<const Param<Sharpness>> Sharpness::rows()
{
    return sharpnessRows<Sharpness>();
}

int Sharpness::reachPx() const
{
    return reachOf(double(radiusPx)) + 1;
}

namespace
{

/// What either does with the lightness round about. @param act (planes, smoother)
/// @param leastSigma px that it looks round about at least, however coarse the level
template <class Act>
LightChange changeOfFine(const Sharpness &values, const LightSpace &space, double leastSigma,
                         const Act &act)
{
    return [values, act, leastSigma, toLms = space.toLms, fromLms = space.fromLms](
               const Source &in, int level, LightTile &out, const Run &run) -> Result<void> {
        const double sigma = std::max(double(values.radiusPx) / double(1 << level), leastSigma);
        if (values.amount == 0 || sigma < kLeastSigma)
            return in.readPlanes(level, out, run);
        const GuidedMean fine(sigma);
        LightTile wide(widenedBy(out.area(), fine.reach() << level, level, in.rectOf(level)));
        if (auto done = in.readPlanes(level, wide, run); !done)
            return done;
        LabPlanes lab(wide, toLms);
        act(lab, fine);
        lab.store(wide.area(), out, fromLms);
        return {};
    };
}

} // namespace

LightChange Sharpness::change(const LightSpace &space) const
{
    return changeOfFine(*this, space, 0, [by = amount](LabPlanes &lab, const GuidedMean &fine) {
        sharpen(lab, fine, by);
    });
}

std::span<const Param<SharpnessMask>> SharpnessMask::rows()
{
    return sharpnessRows<SharpnessMask>();
}

LightChange SharpnessMask::change(const LightSpace &space) const
{
    constexpr double kLeastSeen = 0.5; // px
    return changeOfFine(
        *this, space, kLeastSeen, [by = amount](LabPlanes &lab, const GuidedMean &fine) {
            constexpr float kWhite = 0.04F; // of L
            const Plane added = sharper(lab.L, fine, by);
            for (size_t i = 0; i < added.count(); ++i)
                lab.L.row(0)[i] = std::min(std::abs(added.row(0)[i]) / kWhite, 1.0F);
            lab.isNeutral = true;
        });
}

std::span<const Param<Noise>> Noise::rows()
{
    static constexpr Param<Noise> kRows[] = {
        {"lightness", [](Noise &n) -> float & { return n.lightness; }, 0, 1, kSince, {100}},
        {"colour", [](Noise &n) -> float & { return n.colour; }, 0, 1, kSince, {100}}};
    return kRows;
}

int Noise::reachPx() const
{
    return reachOf(colour > 0 ? kColourPx : kLightnessPx) + 1;
}

LightChange Noise::change(const LightSpace &space) const
{
    return [values = *this, toLms = space.toLms, fromLms = space.fromLms](
               const Source &in, int level, LightTile &out, const Run &run) -> Result<void> {
        constexpr float kMostNoise = 0.05F;
        constexpr float kMostColourNoise = 0.04F;
        const double px = double(1 << level);
        const bool ofLightness = values.lightness > 0 && kLightnessPx / px >= kLeastSigma;
        const bool ofColour = values.colour > 0 && kColourPx / px >= kLeastSigma;
        if (!ofLightness && !ofColour)
            return in.readPlanes(level, out, run);
        const GuidedMean near(kLightnessPx / px);
        const GuidedMean far(kColourPx / px);
        const int reach = ofColour ? far.reach() : near.reach();
        LightTile wide(widenedBy(out.area(), reach << level, level, in.rectOf(level)));
        if (auto done = in.readPlanes(level, wide, run); !done)
            return done;
        LabPlanes lab(wide, toLms);
        // The first steps of the slider matter most: all of what is found, of ever stronger noise.
        const auto share = [](float amount) { return std::min(1.0F, 4 * amount); };
        const Plane L = lab.L.clone();
        if (ofLightness) {
            const float noise = kMostNoise * values.lightness;
            mix(lab.L, near.smoothed(L, L, noise * noise), share(values.lightness));
        }
        if (ofColour && !lab.isNeutral) {
            const float noise = kMostColourNoise * values.colour;
            for (Plane *plane : {&lab.a, &lab.b})
                mix(*plane, smoothedColour(far, *plane, L, noise * noise), share(values.colour));
        }
        lab.store(wide.area(), out, fromLms);
        return {};
    };
}

} // namespace buttonhole
