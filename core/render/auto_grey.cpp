#include "render/auto_grey.h"

#include "colour/oklab.h"
#include "render/grey_statistics.h"
#include "render/mask_stage.h"
#include "tone/grey_mixer.h"
#include "tone/tone_curve.h"

#include <algorithm>
#include <numeric>
#include <random>

namespace buttonhole
{

namespace
{

constexpr int kThresholds = 15;
constexpr int kLongEdge = 64; // as the paper reduces pictures
constexpr float kInsideWeight = 0.1F;
constexpr float kAlmostWhite = 90; // L*; the reduced picture hides the lights of what it averages
constexpr double kBlownCost = 1.0;

Vector3 toCieLab(const Vector3 &xyz)
{
    const auto f = [](double t) {
        constexpr double kDelta = 6.0 / 29;
        return t > kDelta * kDelta * kDelta ? std::cbrt(t) : t / (3 * kDelta * kDelta) + 4.0 / 29;
    };
    const double x = f(xyz[0] / kWhiteD65[0]);
    const double y = f(xyz[1]);
    const double z = f(xyz[2] / kWhiteD65[2]);
    return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

/// The cells of a coarse grid over the picture: their mean colour, and how much of them is grey.
struct Grid {
    int width = 0;
    int height = 0;
};

Grid fillColours(const PhotoLevels &levels, const Take *take, ColourPairs &out)
{
    const int level = levels.levelWithin(8 * kLongEdge);
    const Rect area = levels.rectOf(level);
    const double scale = double(kLongEdge) / std::max(area.x1, area.y1);
    const Grid grid{std::max(1, int(area.x1 * std::min(scale, 1.0))),
                    std::max(1, int(area.y1 * std::min(scale, 1.0)))};
    std::vector<uint16_t> mask(area.area());
    if (take)
        combinedMask(levels, *take, level, area, mask.data());
    out.count = size_t(grid.width) * size_t(grid.height);
    for (auto *row : {&out.r, &out.g, &out.b})
        row->assign(out.count + kRowRun, 0.0F);
    out.weights.assign(out.count, 1.0F);
    const auto fillCell = [&](const auto &image, int gx, int gy) {
        const Rect cell{gx * area.x1 / grid.width, gy * area.y1 / grid.height,
                        std::max(gx * area.x1 / grid.width + 1, (gx + 1) * area.x1 / grid.width),
                        std::max(gy * area.y1 / grid.height + 1, (gy + 1) * area.y1 / grid.height)};
        const size_t at = size_t(gy) * size_t(grid.width) + size_t(gx);
        double kept = 0;
        for (int y = cell.y0; y < cell.y1; ++y)
            for (int x = cell.x0; x < cell.x1; ++x) {
                float rgb[3];
                decodeRow(levels.colour(), image.pixel(x, y), 1, rgb, rgb + 1, rgb + 2);
                out.r[at] += rgb[0] / float(cell.area());
                out.g[at] += rgb[1] / float(cell.area());
                out.b[at] += rgb[2] / float(cell.area());
                kept += mask[size_t(y) * size_t(area.x1) + size_t(x)];
            }
        kept /= 65535.0 * double(cell.area());
        out.weights[at] = float(1 - double(1 - kInsideWeight) * kept);
    };
    std::visit(
        [&](const auto &image) {
            for (int gy = 0; gy < grid.height; ++gy)
                for (int gx = 0; gx < grid.width; ++gx)
                    fillCell(image, gx, gy);
        },
        levels.level(level));
    return grid;
}

/// A mix's worth on the pairs.
class Search
{
public:
    Search(const PhotoLevels &levels, const ColourPairs &pairs)
        : m_levels(levels), m_pairs(pairs), m_plain(greyLightness(levels, pairs, {}))
    {
    }

    std::vector<float> lightnessOf(const GreyMix &mix) const
    {
        return greyLightness(m_levels, m_pairs, mix);
    }

    double worth(const GreyMix &mix) const
    {
        const std::vector<float> grey = lightnessOf(mix);
        double away = 0;
        double blown = 0; // whites that were none
        for (size_t i = 0; i < grey.size(); ++i) {
            away += double(std::abs(grey[i] - m_plain[i]));
            blown += double(std::max(0.0F, grey[i] - std::max(m_plain[i], kAlmostWhite)));
        }
        double bend = 0;
        for (const HuePoint &point : mix.hue)
            bend += double(std::abs(point.value) / 100);
        const auto n = double(grey.size());
        return colourContrastRatio(m_pairs, grey) - 0.6 * away / (100 * n) -
               kBlownCost * blown / (double(100 - kAlmostWhite) * n) - 0.006 * bend;
    }

private:
    const PhotoLevels &m_levels;
    const ColourPairs &m_pairs;
    std::vector<float> m_plain;
};

/// The hues where the photo has colour: peaks of the histogram, at least 40 degrees apart.
std::vector<HuePoint> findPeaks(const PhotoLevels &levels)
{
    constexpr float kApartDeg = 40;
    std::array<float, 360> hues = measureHues(levels);
    std::vector<HuePoint> out;
    while (out.size() < 6) {
        const auto peak = std::max_element(hues.begin(), hues.end());
        if (*peak < 0.03F)
            break;
        const int at = int(peak - hues.begin());
        out.push_back({float(at), 0, 35});
        for (int k = -int(kApartDeg); k <= int(kApartDeg); ++k)
            hues[size_t((at + k + 360) % 360)] = 0;
    }
    std::sort(out.begin(), out.end(),
              [](const HuePoint &a, const HuePoint &b) { return a.hueDeg < b.hueDeg; });
    return out;
}

/// Black and white points at the ends of what there is, so that the whole scale is used.
void stretch(GreyMix &mix, const Search &search)
{
    std::vector<float> sorted = search.lightnessOf(mix);
    std::sort(sorted.begin(), sorted.end());
    const auto at = [&](double share) {
        const float cie = sorted[size_t(share * double(sorted.size() - 1))];
        return (cie + 16) / 116; // the cube root of luminance above the toe
    };
    mix.tone.black = std::clamp(at(0.002) - 0.15F, 0.0F, 0.25F);
    mix.tone.white = std::clamp(at(0.998) + 0.05F, 0.75F, 1.0F);
}

} // namespace

float toCieLightness(float y)
{
    constexpr float kToe = 0.008856452F;
    return y > kToe ? 116 * std::cbrt(y) - 16 : 903.2963F * y;
}

std::vector<float> greyLightness(const PhotoLevels &levels, const ColourPairs &pairs,
                                 const GreyMix &mix)
{
    GreyMix colourPart = mix;
    colourPart.tone = {};
    colourPart.strength = 1;
    const GreyMixer mixer(colourPart, levels.colour());
    const std::vector<float> curve =
        mix.tone.isPlainCurve() ? std::vector<float>() : makeToneCurve(mix.tone);
    std::vector<float> out(pairs.count);
    float r[kRowRun + 64];
    float g[kRowRun + 64];
    float b[kRowRun + 64];
    float grey[kRowRun + 64];
    for (size_t i = 0; i < pairs.count; i += kRowRun) {
        const int n = int(std::min<size_t>(kRowRun, pairs.count - i));
        std::copy_n(pairs.r.data() + i, n, r);
        std::copy_n(pairs.g.data() + i, n, g);
        std::copy_n(pairs.b.data() + i, n, b);
        mixer.colourGreyRow(r, g, b, n, grey);
        if (!curve.empty()) {
            lightnessRow(grey, n, grey);
            tableRow(curve.data(), kToneSteps, n, grey);
            linearRow(grey, n, grey);
        }
        for (int k = 0; k < n; ++k)
            out[i + size_t(k)] = toCieLightness(std::min(grey[k], 1.0F));
    }
    return out;
}

ColourPairs samplePairs(const PhotoLevels &levels, const Take *take)
{
    ColourPairs out;
    const Grid grid = fillColours(levels, take, out);
    std::vector<Vector3> lab(out.count);
    for (size_t i = 0; i < out.count; ++i)
        lab[i] = toCieLab(levels.photo().profile.toXyz() * Vector3{out.r[i], out.g[i], out.b[i]});
    const auto add = [&](size_t a, size_t b) {
        const double difference =
            std::hypot(lab[a][0] - lab[b][0], lab[a][1] - lab[b][1], lab[a][2] - lab[b][2]);
        if (difference >= 1)
            out.pairs.push_back(
                {uint32_t(a), uint32_t(b), float(difference), out.weights[a] * out.weights[b]});
    };
    const auto w = size_t(grid.width);
    for (size_t i = 0; i < out.count; ++i) {
        if (i % w + 1 < w)
            add(i, i + 1);
        if (i + w < out.count)
            add(i, i + w);
    }
    std::minstd_rand random(7);
    std::vector<size_t> other(out.count);
    std::iota(other.begin(), other.end(), size_t(0));
    std::shuffle(other.begin(), other.end(), random);
    for (size_t i = 0; i < out.count; ++i)
        add(i, other[i]);
    return out;
}

double colourContrastRatio(const ColourPairs &pairs, const std::vector<float> &lightness)
{
    double kept[kThresholds + 1] = {};
    double all[kThresholds + 1] = {};
    for (const ColourPairs::Pair &pair : pairs.pairs) {
        const int most = std::min(int(pair.difference), kThresholds);
        const int reached = std::min(int(std::abs(lightness[pair.a] - lightness[pair.b])), most);
        all[most] += double(pair.weight);
        kept[reached] += double(pair.weight);
    }
    double sum = 0;
    int counted = 0;
    for (int tau = kThresholds; tau >= 1; --tau) {
        if (tau < kThresholds) {
            kept[tau] += kept[tau + 1];
            all[tau] += all[tau + 1];
        }
        if (all[tau] > 0) {
            sum += kept[tau] / all[tau];
            ++counted;
        }
    }
    return counted > 0 ? sum / counted : 1;
}

GreyMix findAutoMix(const PhotoLevels &levels, const Take &take)
{
    const ColourPairs pairs = samplePairs(levels, &take);
    const Search search(levels, pairs);
    GreyMix best = take.grey;
    best.base = GreyMix::Base::Luminance;
    best.glass = Glass::None;
    best.hue.clear();
    const float local = best.tone.local;
    const float fine = best.tone.fine;
    best.tone = {};
    best.strength = 1;
    best.look.clear();
    double worth = search.worth(best);
    const auto consider = [&](const GreyMix &mix) {
        const double here = search.worth(mix);
        if (here > worth + 1e-9) {
            worth = here;
            best = mix;
        }
    };
    // Every blend in steps of a tenth, as the paper's second part does.
    GreyMix mix = best;
    mix.base = GreyMix::Base::Blend;
    for (int red = 0; red <= 10; ++red)
        for (int green = 0; red + green <= 10; ++green) {
            mix.blend = {float(red) / 10, float(green) / 10, float(10 - red - green) / 10};
            consider(mix);
        }
    mix = best;
    mix.hue = findPeaks(levels);
    best = mix;
    for (const float step : {45.0F, 20.0F, 8.0F})
        for (int round = 0; round < 3; ++round)
            for (size_t i = 0; i < best.hue.size(); ++i)
                for (const float by : {-2 * step, -step, step, 2 * step}) {
                    mix = best;
                    mix.hue[i].value = std::clamp(std::round(mix.hue[i].value + by), -90.0F, 90.0F);
                    consider(mix);
                }
    stretch(best, search);
    mix = best;
    for (const float contrast : {8.0F, 16.0F, 24.0F, 32.0F}) {
        mix.tone.contrast = contrast;
        if (search.worth(mix) > search.worth(best) + 0.004)
            best = mix;
    }
    best.tone.local = local;
    best.tone.fine = fine;
    return best;
}

} // namespace buttonhole
