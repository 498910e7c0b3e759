#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// Film-like grain in lightness: noise of one period in all directions (a difference of two
/// Gaussians of white noise), strongest in the middle greys, none in black and white, so that
/// neither mean nor ends move. It belongs to the picture, not to its pixels: it looks the same at
/// every size of delivery. Never finer than 2.5 px of what is delivered.
struct Grain {
    float amount = 0;          ///< 0..1: 1 has a standard deviation of 12 L* in the middle greys
    float sizePermille = 0.6F; ///< 0.2..6: from one grain to the next, of the picture's longer edge
    float roughness = 0.3F;    ///< 0..1: how much of it is twice as fine
    float seed = 1;            ///< 1..999, whole: another one is another grain
    float spareKept = 0;       ///< 0..1: so much less of it on what is kept in colour

    static constexpr std::string_view kKind = "grain";
    static constexpr int kSince = 11;
    static std::span<const Param<Grain>> rows();
    int reachPx() const { return 0; }
    float spared() const { return spareKept; }
    LightChange change(const LightSpace &space) const { return change(space, 1); }
    /// For a picture that is made smaller afterwards.
    /// @param pxPerDelivered px of the picture for one of what is delivered, 1 and more
    LightChange change(const LightSpace &space, double pxPerDelivered) const;
};

/// Noise of a mean of 0 and a standard deviation of 1 at any place.
class GrainField
{
public:
    /// @param periodPx     from one grain to the next
    /// @param averagedOver px, each way, that are made one afterwards: the deviation is meant then
    GrainField(double periodPx, double averagedOver, uint32_t seed);

    /// @param area any, its place counts
    Image<float> over(const Rect &area) const;
    /// Of what over() gives, before it is averaged.
    float variance() const { return m_variance; }

private:
    double varianceOf(double over) const;

    std::vector<float> m_narrow; ///< weights of both Gaussians, of the middle first
    std::vector<float> m_wide;
    float m_scale = 1;
    float m_variance = 1;
    uint32_t m_seed;
};

} // namespace buttonhole
