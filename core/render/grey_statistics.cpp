#include "render/grey_statistics.h"

#include "colour/oklab.h"
#include "colour/srgb_curve.h"
#include "render/grey_stage.h"
#include "render/mask_stage.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

/// Every run of a level with its place: f(pixels, n, place).
template <class F>
void visitRuns(const PhotoLevels &levels, int level, const F &f)
{
    const Rect area = levels.rectOf(level);
    std::visit(
        [&](const auto &image) {
            for (int y = 0; y < area.y1; ++y)
                for (int x = 0; x < area.x1; x += kRowRun)
                    f(image.pixel(x, y), std::min(kRowRun, area.x1 - x), RowPlace{x, y, level});
        },
        levels.level(level));
}

} // namespace

std::array<float, 360> measureHues(const PhotoLevels &levels)
{
    std::array<double, 360> bins{};
    const Matrix3 &toXyz = levels.photo().profile.toXyz();
    visitRuns(levels, levels.levelWithin(400), [&](const auto *rgb, int n, const RowPlace &) {
        float r[kRowRun];
        float g[kRowRun];
        float b[kRowRun];
        decodeRow(levels.colour(), rgb, n, r, g, b);
        for (int i = 0; i < n; ++i) {
            const Oklab lab = toOklab(toXyz * Vector3{r[i], g[i], b[i]});
            if (const double c = chroma(lab); c > 0.02)
                bins[size_t(hueDeg(lab)) % 360] += c;
        }
    });
    std::array<float, 360> out{};
    for (int i = 0; i < 360; ++i)
        for (int k = -4; k <= 4; ++k) // a triangle of 9 degrees
            out[size_t(i)] += float(bins[size_t((i + k + 360) % 360)] * (5 - std::abs(k)));
    const float most = *std::max_element(out.begin(), out.end());
    if (most > 0)
        for (float &bin : out)
            bin /= most;
    return out;
}

ToneHistogram measureTones(const PhotoLevels &levels, const Take &take, bool wholePicture)
{
    const int level = levels.levelWithin(800);
    const Rect area = levels.rectOf(level);
    std::vector<uint16_t> mask(area.area());
    if (!wholePicture)
        combinedMask(levels, take, level, area, mask.data());
    GreyMix untoned = take.grey;
    untoned.tone = {};
    untoned.tone.local = take.grey.tone.local;
    untoned.tone.fine = take.grey.tone.fine;
    untoned.strength = 1;
    const auto before = findGreyMixer(levels, untoned);
    const auto after = findGreyMixer(levels, take.grey);
    ToneHistogram out;
    double total = 0;
    const auto black = float(srgbLinear(0.5 / 255));
    const auto white = float(srgbLinear(254.5 / 255));
    visitRuns(levels, level, [&](const auto *rgb, int n, const RowPlace &place) {
        alignas(64) float in[kRowRun + 64];
        alignas(64) float result[kRowRun + 64];
        before->greyRow(rgb, n, place, in);
        after->greyRow(rgb, n, place, result);
        for (int i = 0; i < n; ++i) {
            const float weight =
                1 - float(mask[size_t(place.y) * size_t(area.x1) + size_t(place.x + i)]) / 65535;
            const auto bin = [](float y) {
                return size_t(std::clamp(int(std::cbrt(y) * ToneHistogram::kBins), 0,
                                         ToneHistogram::kBins - 1));
            };
            out.before[bin(in[i])] += weight;
            out.after[bin(result[i])] += weight;
            out.clippedBlack += result[i] < black ? weight : 0;
            out.clippedWhite += result[i] > white ? weight : 0;
            total += double(weight);
        }
    });
    if (total > 0) {
        for (auto *bins : {&out.before, &out.after})
            for (float &value : *bins)
                value = float(double(value) / total);
        out.clippedBlack = float(double(out.clippedBlack) / total);
        out.clippedWhite = float(double(out.clippedWhite) / total);
    }
    return out;
}

} // namespace buttonhole
