#include "document/seen_part.h"

#include "colour/pixel_rows.h"
#include "light/lab_tile.h"
#include "light/source.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kMostChroma = 0.6; ///< of a and b by L
constexpr int kSeenEdge = 400;      ///< px of the level looked at

/// The photo at a small level, as OKLab.
struct SmallLab {
    Rect all;
    std::vector<float> L;
    std::vector<float> a;
    std::vector<float> b;
    std::array<float, ColourShares::kTones - 1> tones{}; ///< lightnesses between its quarters

    static std::optional<SmallLab> of(const PhotoLevels &levels, int level)
    {
        SmallLab out;
        out.all = levels.rectOf(level);
        LightTile light(out.all);
        if (!PhotoSource(levels).read(level, light, {}))
            return {};
        for (int y = 0; y < out.all.height(); ++y)
            for (int x = 0; x < out.all.width(); x += kRowRun) {
                const int n = std::min(kRowRun, out.all.width() - x);
                float rows[3][kRowRun] = {};
                for (int c = 0; c < 3; ++c)
                    std::copy_n(light.at(c, x, y), n, rows[c]);
                labRow(levels.colour().toLms.data(), n, rows[0], rows[1], rows[2]);
                out.L.insert(out.L.end(), rows[0], rows[0] + n);
                out.a.insert(out.a.end(), rows[1], rows[1] + n);
                out.b.insert(out.b.end(), rows[2], rows[2] + n);
            }
        std::vector<float> sorted = out.L;
        std::sort(sorted.begin(), sorted.end());
        for (size_t i = 0; i < out.tones.size(); ++i)
            out.tones[i] = sorted[sorted.size() * (i + 1) / ColourShares::kTones];
        return out;
    }
    int toneOf(size_t i) const
    {
        return int(std::upper_bound(tones.begin(), tones.end(), L[i]) - tones.begin());
    }
    double u(size_t i) const { return double(a[i]) / std::max(double(L[i]), 0.05); }
    double v(size_t i) const { return double(b[i]) / std::max(double(L[i]), 0.05); }
};

/// A place among the bins, between the middles of two.
struct BinPlace {
    int low;
    double share; ///< of the next one
    explicit BinPlace(double value)
    {
        const double at =
            std::clamp((value / kMostChroma + 1) / 2, 0.0, 1.0) * (ColourShares::kSide - 1);
        low = std::min(int(at), ColourShares::kSide - 2);
        share = at - low;
    }
};

template <class Visit>
void visitBins(double u, double v, int tone, const Visit &visit)
{
    const BinPlace across(u);
    const BinPlace down(v);
    for (int i = 0; i < 2; ++i)
        for (int j = 0; j < 2; ++j)
            visit(size_t((tone * ColourShares::kSide + down.low + j) * ColourShares::kSide +
                         across.low + i),
                  (i ? across.share : 1 - across.share) * (j ? down.share : 1 - down.share));
}

/// The smallest box that holds all but a fiftieth of what is covered on each side.
void findBox(const std::vector<uint16_t> &shares, const Rect &all, SeenPart &out)
{
    std::vector<double> columns(size_t(all.width()));
    std::vector<double> rows(size_t(all.height()));
    double sum = 0;
    for (size_t i = 0; i < shares.size(); ++i) {
        const double share = shares[i];
        columns[i % columns.size()] += share;
        rows[i / columns.size()] += share;
        sum += share;
    }
    if (sum <= 0)
        return;
    const auto ends = [sum](const std::vector<double> &line) {
        constexpr double kLost = 0.005;
        size_t from = 0;
        size_t to = line.size();
        for (double lost = line[from]; lost < kLost * sum; lost += line[from])
            ++from;
        for (double lost = line[to - 1]; lost < kLost * sum; lost += line[to - 1])
            --to;
        return std::pair(double(from) / double(line.size()), double(to) / double(line.size()));
    };
    std::tie(out.x0, out.x1) = ends(columns);
    std::tie(out.y0, out.y1) = ends(rows);
}

/// Sums over rectangles (summed area table).
class Sums
{
public:
    Sums(const std::vector<float> &values, int width, int height)
        : m_stride(size_t(width) + 1), m_sums(m_stride * (size_t(height) + 1))
    {
        for (size_t y = 0; y < size_t(height); ++y) {
            double row = 0;
            for (size_t x = 0; x < size_t(width); ++x) {
                row += double(values[y * size_t(width) + x]);
                m_sums[(y + 1) * m_stride + x + 1] = m_sums[y * m_stride + x + 1] + row;
            }
        }
    }
    double of(const Rect &r) const
    {
        const auto at = [&](int x, int y) { return m_sums[size_t(y) * m_stride + size_t(x)]; };
        return at(r.x1, r.y1) - at(r.x0, r.y1) - at(r.x1, r.y0) + at(r.x0, r.y0);
    }

private:
    size_t m_stride;
    std::vector<double> m_sums;
};

/// The box of that size with the greatest sum.
std::pair<Rect, double> bestBox(const Sums &sums, const Rect &all, int width, int height)
{
    Rect best;
    double most = 0;
    for (int y = 0; y + height <= all.height(); ++y)
        for (int x = 0; x + width <= all.width(); ++x)
            if (const Rect box{x, y, x + width, y + height}; sums.of(box) > most) {
                most = sums.of(box);
                best = box;
            }
    return {best, most};
}

/// For each pixel how much its colour speaks for the part, or below 0 against it: -1..1.
std::vector<float> speakingFor(const SmallLab &lab, const SeenPart &part)
{
    std::vector<float> out(lab.all.area());
    for (size_t i = 0; i < out.size(); ++i) {
        constexpr double kRare = 2e-4;
        const int tone = lab.toneOf(i);
        const double in = part.inside.at(lab.u(i), lab.v(i), tone) + kRare;
        const double other = part.outside.at(lab.u(i), lab.v(i), tone) + kRare;
        out[i] = float(std::clamp(std::log2(in / other) / 4, -1.0, 1.0));
    }
    return out;
}

/// Of boxes of its shape, larger and smaller ones, the best; empty: nothing speaks for any.
Rect bestPlace(const Sums &sums, const Rect &all, const SeenPart &part)
{
    Rect best;
    double most = 0;
    for (const double scale : {0.7, 0.8, 0.9, 1.0, 1.12, 1.25, 1.4}) {
        const auto px = [&](double share, int whole) {
            return std::clamp(int(std::lround(share * scale * whole)), 1, whole);
        };
        const auto [box, sum] = bestBox(sums, all, px(part.x1 - part.x0, all.width()),
                                        px(part.y1 - part.y0, all.height()));
        // Of boxes that gather nearly as much the one nearest in size is meant.
        if (const double held = sum * (1 - 0.1 * std::abs(std::log2(scale))); held > most) {
            most = held;
            best = box;
        }
    }
    return best;
}

Rect loosely(const Rect &box, const Rect &all)
{
    const auto more = [](int length) { return std::max(1, int(std::lround(0.04 * length))); };
    const int across = more(box.width());
    const int down = more(box.height());
    return intersected({box.x0 - across, box.y0 - down, box.x1 + across, box.y1 + down}, all);
}

} // namespace

void ColourShares::add(double u, double v, int tone, double weight)
{
    visitBins(u, v, tone, [&](size_t bin, double share) { bins[bin] += float(share * weight); });
}

void ColourShares::finish()
{
    double sum = 0;
    for (const float each : bins)
        sum += double(each);
    for (float &each : bins)
        each = sum > 0 ? float(double(each) / sum) : 0;
}

double ColourShares::at(double u, double v, int tone) const
{
    // Other light moves a few from one quarter to the next.
    double out = 0;
    for (int beside = -1; beside <= 1; ++beside)
        visitBins(u, v, std::clamp(tone + beside, 0, kTones - 1), [&](size_t bin, double share) {
            out += (beside == 0 ? 0.5 : 0.25) * share * double(bins[bin]);
        });
    return out;
}

double ColourShares::overlap(const ColourShares &other) const
{
    // By colour alone: another light moves the quarters.
    double out = 0;
    constexpr size_t kPlane = size_t(kSide) * kSide;
    for (size_t i = 0; i < kPlane; ++i) {
        double own = 0;
        double theirs = 0;
        for (size_t tone = 0; tone < kTones; ++tone) {
            own += double(bins[tone * kPlane + i]);
            theirs += double(other.bins[tone * kPlane + i]);
        }
        out += std::min(own, theirs);
    }
    return out;
}

std::optional<SeenPart> seenPart(const PhotoLevels &levels, const Mask &mask)
{
    const int level = levels.levelWithin(kSeenEdge);
    const auto lab = SmallLab::of(levels, level);
    if (!lab)
        return {};
    std::vector<uint16_t> shares(lab->all.area());
    fullMask(levels, mask, level, lab->all, shares.data());
    SeenPart out;
    findBox(shares, lab->all, out);
    // What lies round it is what it must be told from.
    constexpr double kFarther = 0.15;
    const auto px = [](double at, int whole) { return int(at * whole); };
    const int across = px(out.x1 - out.x0, lab->all.width()) / 2;
    const int down = px(out.y1 - out.y0, lab->all.height()) / 2;
    const Rect near{px(out.x0, lab->all.width()) - across, px(out.y0, lab->all.height()) - down,
                    px(out.x1, lab->all.width()) + across, px(out.y1, lab->all.height()) + down};
    LightTile light(lab->all);
    if (!PhotoSource(levels).read(level, light, {}))
        return {};
    double sums[3] = {};
    double weight = 0;
    for (size_t i = 0; i < shares.size(); ++i) {
        const double w = double(shares[i]) / 65535;
        const int x = int(i) % lab->all.width();
        const int y = int(i) / lab->all.width();
        for (int c = 0; c < 3; ++c)
            sums[c] += w * double(*light.at(c, x, y));
        weight += w;
        const int tone = lab->toneOf(i);
        out.inside.add(lab->u(i), lab->v(i), tone, w);
        const bool isNear = near.x0 <= x && x < near.x1 && near.y0 <= y && y < near.y1;
        out.outside.add(lab->u(i), lab->v(i), tone, (1 - w) * (isNear ? 1 : kFarther));
    }
    if (weight < 0.5)
        return {};
    out.inside.finish();
    out.outside.finish();
    float rgb[3][kRowRun] = {};
    for (int c = 0; c < 3; ++c)
        rgb[c][0] = float(sums[c] / weight);
    labRow(levels.colour().toLms.data(), 1, rgb[0], rgb[1], rgb[2]);
    out.share = weight / double(lab->all.area());
    out.colour = {double(rgb[0][0]), double(rgb[1][0]), double(rgb[2][0])};
    return out;
}

float likeness(const SeenPart &a, const SeenPart &b)
{
    constexpr double kStops = 1.5; // of its share of the frame, either way: another thing
    const double size = std::log2(std::max(a.share, 1e-6) / std::max(b.share, 1e-6)) / kStops;
    return float(a.inside.overlap(b.inside) * std::exp2(-size * size));
}

std::vector<Rect> findAgain(const PhotoLevels &levels, const SeenPart &part, size_t most)
{
    const int level = levels.levelWithin(kSeenEdge);
    const auto lab = SmallLab::of(levels, level);
    if (!lab)
        return {};
    const Rect all = lab->all;
    std::vector<float> speaks = speakingFor(*lab, part);
    std::vector<Rect> out;
    while (out.size() < most) {
        const Rect best = bestPlace(Sums(speaks, all.width(), all.height()), all, part);
        if (best.isEmpty())
            break;
        // The next one does not lie in the middle of this one.
        const Rect middle{best.x0 + best.width() / 3, best.y0 + best.height() / 3,
                          best.x1 - best.width() / 3, best.y1 - best.height() / 3};
        for (int y = middle.y0; y < middle.y1; ++y)
            std::fill_n(speaks.begin() + ptrdiff_t(y) * all.width() + middle.x0, middle.width(),
                        -1.0F);
        const Rect loose = loosely(best, all);
        out.push_back(intersected(
            Rect{loose.x0 << level, loose.y0 << level, loose.x1 << level, loose.y1 << level},
            levels.rectOf(0)));
    }
    return out;
}

} // namespace buttonhole
