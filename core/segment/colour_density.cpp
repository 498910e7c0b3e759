#include "segment/colour_density.h"

#include <algorithm>
#include <numeric>

namespace buttonhole
{

namespace
{

constexpr float kMostChroma = 0.36F; ///< of OKLab a and b that are told apart
/// What counts as seen: about one sample in five thousand.
constexpr float kUnseen = 2e-5F;

int clampedBin(float value, int bins)
{
    return std::clamp(int(value * float(bins)), 0, bins - 1);
}

/// (1 2 1) / 4 along one axis.
void smoothAxis(std::vector<float> &bins, size_t count, size_t stride)
{
    std::vector<float> line(count + 2);
    for (size_t start = 0; start < bins.size(); ++start) {
        if (start / stride % count != 0)
            continue;
        for (size_t i = 0; i < count; ++i)
            line[i + 1] = bins[start + i * stride];
        line[0] = line[1];
        line[count + 1] = line[count];
        for (size_t i = 0; i < count; ++i)
            bins[start + i * stride] = (line[i] + 2 * line[i + 1] + line[i + 2]) / 4;
    }
}

} // namespace

int ColourDensity::binOf(const cv::Vec3f &lab)
{
    const int l = clampedBin(lab[0], kLightness);
    const int a = clampedBin((lab[1] + kMostChroma) / (2 * kMostChroma), kChroma);
    const int b = clampedBin((lab[2] + kMostChroma) / (2 * kMostChroma), kChroma);
    return (l * kChroma + a) * kChroma + b;
}

void ColourDensity::finish()
{
    const double sum = std::accumulate(m_bins.begin(), m_bins.end(), 0.0);
    if (sum <= 0)
        return;
    for (int round = 0; round < 2; ++round) {
        smoothAxis(m_bins, kLightness, size_t(kChroma) * kChroma);
        smoothAxis(m_bins, kChroma, kChroma);
        smoothAxis(m_bins, kChroma, 1);
    }
    for (float &bin : m_bins)
        bin = float(double(bin) / sum);
}

float shareOf(const ColourDensity &own, const ColourDensity &other, int bin)
{
    return (own.at(bin) + kUnseen) / (own.at(bin) + other.at(bin) + 2 * kUnseen);
}

} // namespace buttonhole
