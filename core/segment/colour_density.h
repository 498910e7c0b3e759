#pragma once

#include <opencv2/core.hpp>

#include <vector>

namespace buttonhole
{

/// How often colours occur in a sample: a smoothed histogram over OKLab, 20 x 48 x 48 bins. Few
/// samples or several colours in one thing are no trouble for it, and looking up costs an index.
class ColourDensity
{
public:
    static constexpr int kLightness = 20;
    static constexpr int kChroma = 48;
    static int binOf(const cv::Vec3f &lab);

    ColourDensity() : m_bins(size_t(kLightness) * kChroma * kChroma, 0.0F) {}
    void add(int bin, float weight = 1) { m_bins[size_t(bin)] += weight; }
    /// After the last add(): spreads samples to similar colours, and makes the sum 1.
    void finish();
    float at(int bin) const { return m_bins[size_t(bin)]; }

private:
    std::vector<float> m_bins;
};

/// The share of evidence, 0..1, that a colour is of `own` and not of `other`; 0.5 where both have
/// not seen it.
float shareOf(const ColourDensity &own, const ColourDensity &other, int bin);

} // namespace buttonhole
