#include "mask/pixel_step.h"

#include "colour/oklab.h"
#include "io/lab_row.h"
#include "mask/window_rows.h"

#include <opencv2/imgproc.hpp>

#include <cmath>
#include <numeric>

namespace buttonhole
{

namespace
{

/// Connections are looked for at the level within this long edge: a pixel there is at most a few of
/// the photo, and the whole of it takes a moment only.
constexpr int kJoinLongEdge = 3200;

float percentile(std::vector<float> &values, double share)
{
    const auto nth = values.begin() + ptrdiff_t(share * double(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), nth, values.end());
    return *nth;
}

/// The pixel at a place and so many to each side, clipped to the photo.
Rect squareRound(const PhotoLevels &levels, const PhotoPoint &at, int half)
{
    const Rect photo = levels.rectOf(0);
    const int x = std::clamp(int(std::floor(at.x)), 0, photo.x1 - 1);
    const int y = std::clamp(int(std::floor(at.y)), 0, photo.y1 - 1);
    return intersected(photo, {x - half, y - half, x + half + 1, y + half + 1});
}

cv::Mat1b wrapped(Image<uint8_t> &image)
{
    return {image.height(), image.width(), image.row(0), image.stride()};
}

} // namespace

float SoftRange::at(float value) const
{
    if (value >= least && value <= most)
        return 1;
    const float beyond = value < least ? least - value : value - most;
    return soft > 0 ? smoothStep(1 - beyond / soft) : 0.0F;
}

/// Pixels of one level that are connected with the step's places, and a rim so that soft edges
/// stay.
struct PixelStep::Joined {
    int level = 0;
    Image<uint8_t> inside;
};

void PixelStep::plainCoverage(const PhotoLevels &levels, int level, const Rect &area,
                              uint16_t *out) const
{
    alignas(64) float share[kTileSize + 64];
    for (int y0 = area.y0; y0 < area.y1; y0 += kTileSize)
        for (int x0 = area.x0; x0 < area.x1; x0 += kTileSize) {
            const Rect part = intersected(area, {x0, y0, x0 + kTileSize, y0 + kTileSize});
            const LabTile &lab = LabTile::of(levels, level, part);
            for (int y = 0; y < part.height(); ++y) {
                coverageRow(lab.L(y), lab.a(y), lab.b(y), part.width(), share);
                maskRow(share, part.width(),
                        out + size_t(part.y0 + y - area.y0) * size_t(area.width()) +
                            (part.x0 - area.x0));
            }
        }
}

void PixelStep::markJoined(const PhotoLevels &levels, int level, Image<uint8_t> &inside) const
{
    const Rect all = levels.rectOf(level);
    cv::Mat1b like = wrapped(inside);
    parallelTiles(all, [&](const Rect &tile) {
        std::vector<uint16_t> values(tile.area());
        plainCoverage(levels, level, tile, values.data());
        const uint16_t *value = values.data();
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                like(y, x) = *value++ >= kJoins ? 255 : 0;
    });
    constexpr int kJoined = 128;
    for (const PhotoPoint &place : m_places) {
        const cv::Point at(std::clamp(int(place.x) >> level, 0, all.x1 - 1),
                           std::clamp(int(place.y) >> level, 0, all.y1 - 1));
        if (like(at) == 255)
            cv::floodFill(like, at, kJoined, nullptr, {}, {}, 8);
    }
    cv::compare(like, kJoined, like, cv::CMP_EQ);
}

std::shared_ptr<const PixelStep::Joined> PixelStep::findJoined(const PhotoLevels &levels) const
{
    const auto make = [&]() -> Memo::Value {
        auto joined = std::make_shared<Joined>();
        joined->level = levels.levelWithin(kJoinLongEdge);
        const Rect all = levels.rectOf(joined->level);
        Image<uint8_t> inside(all.x1, all.y1, 1);
        markJoined(levels, joined->level, inside);
        joined->inside = Image<uint8_t>(all.x1, all.y1, 1);
        const cv::Mat1b narrow = wrapped(inside);
        const cv::Mat1b wide = wrapped(joined->inside);
        const cv::Mat rim = cv::getStructuringElement(cv::MORPH_RECT, {5, 5});
        parallelRows(all.y1, 128, [&](int y0, int y1) { // each sees the rows beyond its own
            cv::dilate(narrow.rowRange(y0, y1), wide.rowRange(y0, y1), rim);
        });
        return joined;
    };
    return ofPhoto<Joined>(levels, make);
}

StepShape::Effect PixelStep::coverage(const PhotoLevels &levels, int level, const Rect &area,
                                      uint16_t *lo, uint16_t *) const
{
    plainCoverage(levels, level, area, lo);
    if (!isConnected())
        return Effect::Raises;
    const auto joined = findJoined(levels);
    const Rect all = levels.rectOf(joined->level);
    const auto placeOf = [&](int at, int most) {
        return std::min(level <= joined->level ? at >> (joined->level - level)
                                               : at << (level - joined->level),
                        most - 1);
    };
    for (int y = area.y0; y < area.y1; ++y) {
        const uint8_t *inside = joined->inside.row(placeOf(y, all.y1));
        for (int x = area.x0; x < area.x1; ++x, ++lo)
            if (inside[placeOf(x, all.x1)] == 0)
                *lo = 0;
    }
    return Effect::Raises;
}

std::vector<PhotoPoint> placedBy(const FrameScale &scale, std::vector<PhotoPoint> places)
{
    for (PhotoPoint &each : places)
        each = scale.of(each);
    return places;
}

LabColour sampleColour(const PhotoLevels &levels, const PhotoPoint &at, int side)
{
    const Rect area = squareRound(levels, at, side / 2);
    double sum[3] = {};
    LabRow run;
    for (int row = area.y0; row < area.y1; ++row) {
        run.read(levels, 0, area.x0, row, area.width());
        for (int i = 0; i < area.width(); ++i) {
            sum[0] += double(run.L[i]);
            sum[1] += double(run.a[i]);
            sum[2] += double(run.b[i]);
        }
    }
    const auto n = double(area.area());
    return {float(sum[0] / n), float(sum[1] / n), float(sum[2] / n)};
}

namespace
{

std::vector<LabColour> coloursIn(const PhotoLevels &levels, int level, const Rect &part)
{
    std::vector<LabColour> out;
    LabRow run;
    for (int y = part.y0; y < part.y1; ++y)
        for (int x = part.x0; x < part.x1; x += kRowRun) {
            const int n = std::min(kRowRun, part.x1 - x);
            run.read(levels, level, x, y, n);
            for (int i = 0; i < n; ++i)
                out.push_back({run.L[i], run.a[i], run.b[i]});
        }
    return out;
}

ColourSpread spreadOf(const std::vector<LabColour> &colours)
{
    ColourSpread out;
    if (colours.empty())
        return out;
    double sumA = 0;
    double sumB = 0;
    for (const LabColour &c : colours) {
        sumA += double(c.a);
        sumB += double(c.b);
    }
    out.hueDeg = float(hueDeg({0, sumA, sumB}));
    std::vector<float> lightness, chroma, turn;
    for (const LabColour &c : colours) {
        lightness.push_back(c.L);
        chroma.push_back(std::hypot(c.a, c.b));
        turn.push_back(std::remainder(float(hueDeg({0, c.a, c.b})) - out.hueDeg, 360.0F));
    }
    out.hueBelowDeg = std::max(0.0F, -percentile(turn, 0.05));
    out.hueAboveDeg = std::max(0.0F, percentile(turn, 0.95));
    out.leastChroma = percentile(chroma, 0.05);
    out.mostChroma = percentile(chroma, 0.95);
    out.leastLightness = percentile(lightness, 0.05);
    out.mostLightness = percentile(lightness, 0.95);
    return out;
}

} // namespace

ColourSpread measureSpread(const PhotoLevels &levels, const Rect &area)
{
    int level = 0;
    constexpr size_t kEnough = size_t(256) * 256;
    while (level + 1 < levels.count() && (area.area() >> (2 * level)) > kEnough)
        ++level;
    return spreadOf(
        coloursIn(levels, level, intersected(atLevel(area, level), levels.rectOf(level))));
}

ColourSpread spreadAt(const PhotoLevels &levels, const PhotoPoint &at)
{
    constexpr int kHalf = 3;        // px round the clicked one
    constexpr float kAlike = 0.06F; // OKLab: what grain makes of one colour
    std::vector<LabColour> colours = coloursIn(levels, 0, squareRound(levels, at, kHalf));
    const LabColour own = sampleColour(levels, at, 1);
    std::erase_if(colours, [&](const LabColour &c) {
        return std::hypot(c.L - own.L, c.a - own.a, c.b - own.b) > kAlike;
    });
    return spreadOf(colours);
}

} // namespace buttonhole
