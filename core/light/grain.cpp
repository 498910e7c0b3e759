#include "light/grain.h"

#include "base/each_cpu.h"
#include "light/lab_tile.h"
#include "raster/row_sums.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kWider = 1.6;            ///< of the wide Gaussian to the narrow one
constexpr double kSigmaOfPeriod = 0.1747; ///< the spectrum of their difference peaks there
constexpr double kLeastPeriodPx = 2.5;

std::vector<float> gaussian(double sigma, size_t radius)
{
    std::vector<double> weights;
    double sum = 0;
    for (size_t i = 0; i <= radius; ++i) {
        weights.push_back(std::exp(-0.5 * double(i * i) / (sigma * sigma)));
        sum += (i == 0 ? 1 : 2) * weights.back();
    }
    std::vector<float> out;
    for (const double w : weights)
        out.push_back(float(w / sum));
    return out;
}

/// Both ways from the middle, and a mean over `over` px of it.
std::vector<double> averaged(const std::vector<float> &half, double over)
{
    const int r = int(half.size()) - 1;
    const int reach = int(std::ceil(over / 2 - 0.5));
    std::vector<double> out(size_t(2 * (r + reach) + 1), 0.0);
    for (int k = -reach; k <= reach; ++k) {
        const double share = (std::min(k + 0.5, over / 2) - std::max(k - 0.5, -over / 2)) / over;
        for (int i = -r; i <= r; ++i)
            out[size_t(i + r + k + reach)] += share * double(half[size_t(std::abs(i))]);
    }
    return out;
}

double product(const std::vector<double> &a, const std::vector<double> &b)
{
    double sum = 0;
    for (size_t i = 0; i < a.size(); ++i)
        sum += a[i] * b[i];
    return sum;
}

/// White noise of a standard deviation of 1, by place.
BUTTONHOLE_EACH_CPU
void whiteRow(uint32_t seed, int x0, int y, int n, float *to)
{
    constexpr float kScale = 3.4641016F / 4294967296.0F; // of an even spread
    const uint32_t row = uint32_t(y) * 0x9e3779b9U + seed * 0x85ebca6bU;
    for (int i = 0; i < n; ++i) {
        uint32_t h = (uint32_t(x0 + i) * 0xc2b2ae35U) ^ row;
        h = (h ^ (h >> 16)) * 0x7feb352dU;
        h = (h ^ (h >> 15)) * 0x846ca68bU;
        h ^= h >> 16;
        to[i] = (float(int32_t(h)) + 0.5F) * kScale;
    }
}

/// @param lost the variance that averaging takes: means are of light, which the cube of a lightness
///             that sways exceeds by that much
BUTTONHOLE_EACH_CPU
void addGrain(const float *field, float most, float lost, int n, float *L)
{
    for (int i = 0; i < n; ++i) {
        const float t = L[i] < 0 ? 0.0F : L[i] > 1 ? 1.0F : L[i];
        const float here = most * 4 * t * (1 - t);
        const float more = here * here * lost / (t > 0.05F ? t : 0.05F);
        L[i] += here * field[i] - more;
    }
}

BUTTONHOLE_EACH_CPU
void lessRow(float scale, const float *less, int n, float *of)
{
    for (int i = 0; i < n; ++i)
        of[i] = scale * (of[i] - less[i]);
}

BUTTONHOLE_EACH_CPU
void mixFields(float rest, float share, const float *other, size_t n, float *of)
{
    for (size_t i = 0; i < n; ++i)
        of[i] = rest * of[i] + share * other[i];
}

Image<float> mixed(Image<float> a, const Image<float> &b, float share)
{
    const float rest = std::sqrt(1 - share * share);
    mixFields(rest, share, b.row(0), a.count(), a.row(0));
    return a;
}

} // namespace

GrainField::GrainField(double periodPx, double averagedOver, uint32_t seed) : m_seed(seed)
{
    const double sigma = kSigmaOfPeriod * periodPx;
    const auto radius = size_t(std::max(1.0, std::ceil(3 * kWider * sigma)));
    m_narrow = gaussian(sigma, radius);
    m_wide = gaussian(kWider * sigma, radius);
    const double own = varianceOf(1);
    const double delivered = varianceOf(std::max(1.0, averagedOver));
    m_scale = float(1 / std::sqrt(delivered));
    m_variance = float(own / delivered);
}

/// Of the difference of both, `over` px each way made one.
double GrainField::varianceOf(double over) const
{
    const auto narrow = averaged(m_narrow, over);
    const auto wide = averaged(m_wide, over);
    const double nn = product(narrow, narrow);
    const double nw = product(narrow, wide);
    const double ww = product(wide, wide);
    return nn * nn - 2 * nw * nw + ww * ww;
}

Image<float> GrainField::over(const Rect &area) const
{
    const int r = int(m_narrow.size()) - 1;
    const int width = area.width();
    std::vector<float> white(size_t(width + 2 * r));
    std::vector<float> wide(size_t(width), 0.0F);
    RingSums ofNarrow(m_narrow, width);
    RingSums ofWide(m_wide, width);
    Image<float> out(width, area.height(), 1);
    for (int y = -r; y < out.height() + r; ++y) {
        whiteRow(m_seed, area.x0 - r, area.y0 + y, int(white.size()), white.data());
        ofNarrow.push(white.data());
        ofWide.push(white.data());
        if (y < r)
            continue;
        float *row = out.row(y - r);
        ofNarrow.sum(row);
        ofWide.sum(wide.data());
        lessRow(m_scale, wide.data(), width, row);
    }
    return out;
}

std::span<const Param<Grain>> Grain::rows()
{
    static constexpr Param<Grain> kRows[] = {
        {"amount", [](Grain &g) -> float & { return g.amount; }, 0, 1, kSince, {100}},
        {"sizePermille",
         [](Grain &g) -> float & { return g.sizePermille; },
         0.2F,
         6,
         kSince,
         {1, " ‰", 2, ParamScale::Way::Logarithmic}},
        {"roughness", [](Grain &g) -> float & { return g.roughness; }, 0, 1, kSince, {100}},
        {"spareKept", [](Grain &g) -> float & { return g.spareKept; }, 0, 1, kSince, {100, " %"}},
        {"seed", [](Grain &g) -> float & { return g.seed; }, 1, 999, kSince, {1, "", 0}}};
    return kRows;
}

LightChange Grain::change(const LightSpace &space, double pxPerDelivered) const
{
    return [values = *this, toLms = space.toLms, fromLms = space.fromLms, pxPerDelivered](
               const Source &in, int level, LightTile &out, const Run &run) -> Result<void> {
        if (auto done = in.readPlanes(level, out, run); !done || values.amount == 0)
            return done;
        constexpr float kMost = 12.0F / 116; // OKLab L of a neutral is the cube root of its light
        constexpr float kFineShare = 0.6F;
        constexpr uint32_t kOther = 7919;
        const Rect whole = in.rectOf(level);
        const double over = std::max(1.0, pxPerDelivered / double(1 << level));
        const double least = kLeastPeriodPx * over;
        const double period =
            double(values.sizePermille) / 1000 * std::max(whole.width(), whole.height());
        const auto first = uint32_t(std::lround(values.seed));
        const Rect area = out.area();
        const Rect place{area.x0 - whole.x0, area.y0 - whole.y0, area.x1 - whole.x0,
                         area.y1 - whole.y0};
        const GrainField coarse(std::max(period, least), over, first);
        Image<float> field = coarse.over(place);
        float lost = coarse.variance() - 1;
        if (values.roughness > 0) {
            const float share = kFineShare * values.roughness;
            const GrainField fine(std::max(period / 2, least), over, first + kOther);
            field = mixed(std::move(field), fine.over(place), share);
            lost += share * share * (fine.variance() - coarse.variance());
        }
        toLab(out, toLms);
        for (int y = area.y0; y < area.y1; ++y)
            addGrain(field.row(y - area.y0), kMost * values.amount, lost, area.width(),
                     out.row(0, y));
        fromLab(out, fromLms);
        return {};
    };
}

} // namespace buttonhole
