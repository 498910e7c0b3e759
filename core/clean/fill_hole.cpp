#include "clean/fill_hole.h"

#include "io/lab_row.h"
#include "raster/parallel_tiles.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kRadius = 3; ///< of a patch, px
constexpr int kBandRows = 24;

/// Red, green and blue in roots of light, 0..255, and nothing: four floats at once.
using V4 = float __attribute__((vector_size(16)));

/// Whole numbers at random, by a place: no order counts.
uint32_t randomAt(uint32_t a, uint32_t b, uint32_t c)
{
    uint32_t x = a * 0x9E3779B1U ^ b * 0x85EBCA77U ^ c * 0xC2B2AE3DU;
    x = (x ^ (x >> 15)) * 0x2C1B3C6DU;
    x = (x ^ (x >> 12)) * 0x297A2D39U;
    return x ^ (x >> 15);
}

/// One size of the picture, with what was found for its patches.
struct Scale {
    cv::Mat4f picture;
    cv::Mat1b hole;     ///< 255: to be filled
    cv::Mat1b mayUse;   ///< 255: may be copied
    cv::Mat1b isSource; ///< middles of patches that may be copied
    cv::Mat1b isTarget; ///< middles of patches that touch the hole
    cv::Mat1f depth;    ///< px into the hole
    cv::Mat2i match;    ///< of targets: the middle of the source patch
    cv::Mat1f distance; ///< to it, mean square of a px
};

const V4 &at(const cv::Mat4f &picture, int x, int y)
{
    return reinterpret_cast<const V4 *>(picture.ptr<cv::Vec4f>(y))[x];
}

float difference(const cv::Mat4f &picture, cv::Point a, cv::Point b, float most)
{
    constexpr float kPx = (2 * kRadius + 1) * (2 * kRadius + 1);
    const float limit = most * kPx;
    float sum = 0;
    for (int j = -kRadius; j <= kRadius; ++j) {
        const V4 *one = &at(picture, a.x - kRadius, a.y + j);
        const V4 *two = &at(picture, b.x - kRadius, b.y + j);
        V4 row{0, 0, 0, 0};
        for (int i = 0; i <= 2 * kRadius; ++i) {
            const V4 d = one[i] - two[i];
            row += d * d;
        }
        sum += (row[0] + row[1]) + row[2];
        if (sum > limit)
            return sum / kPx;
    }
    return sum / kPx;
}

/// What is asked of a scale before anything is searched.
void prepare(Scale &scale)
{
    const cv::Mat1b patch(2 * kRadius + 1, 2 * kRadius + 1, uint8_t(1));
    cv::dilate(scale.hole, scale.isTarget, patch);
    scale.isSource = ~scale.isTarget & scale.mayUse;
    const cv::Rect inside(kRadius, kRadius, scale.hole.cols - 2 * kRadius,
                          scale.hole.rows - 2 * kRadius);
    cv::Mat1b isInside(scale.hole.size(), uint8_t(0));
    isInside(inside) = 255;
    scale.isSource &= isInside;
    scale.isTarget &= isInside;
    cv::distanceTransform(scale.hole, scale.depth, cv::DIST_L2, 5);
    scale.match = cv::Mat2i(scale.hole.size(), cv::Vec2i(-1, -1));
    scale.distance = cv::Mat1f(scale.hole.size(), 1e30F);
}

/// Matches of one scale, searched by bands of rows: within a band one after the other, between
/// bands by what was there before.
class MatchSearch
{
public:
    MatchSearch(Scale &scale, uint32_t seed) : m_scale(scale), m_seed(seed)
    {
        for (int y = 0; y < scale.hole.rows; ++y)
            for (int x = 0; x < scale.hole.cols; ++x) {
                if (scale.isSource(y, x))
                    m_sources.emplace_back(x, y);
                if (scale.isTarget(y, x))
                    m_bounds |= cv::Rect(x, y, 1, 1);
            }
    }
    bool hasSources() const { return !m_sources.empty(); }

    /// Matches where there are none yet, anywhere.
    void begin()
    {
        forTargets(0, [&](int x, int y, const cv::Mat2i &) {
            cv::Vec2i &match = m_scale.match(y, x);
            if (!isSource(match))
                match = m_sources[randomAt(m_seed, uint32_t(x), uint32_t(y)) % m_sources.size()];
        });
        refresh();
    }
    /// The picture is another: so are distances.
    void refresh()
    {
        forTargets(0, [&](int x, int y, const cv::Mat2i &) {
            const cv::Vec2i &match = m_scale.match(y, x);
            m_scale.distance(y, x) =
                difference(m_scale.picture, {x, y}, {match[0], match[1]}, 1e30F);
        });
    }
    /// What is copied again and again should cost more: means of patches are flat, and would be
    /// found where the photo is.
    void weighUse()
    {
        constexpr float kFair = 1.5F;  // times
        constexpr float kPrice = 0.3F; // of the usual distance, each time more
        cv::Mat1f uses(m_scale.hole.size(), 0.0F);
        std::vector<float> distances;
        for (int y = m_bounds.y; y < m_bounds.br().y; ++y)
            for (int x = m_bounds.x; x < m_bounds.br().x; ++x)
                if (m_scale.isTarget(y, x)) {
                    const cv::Vec2i &match = m_scale.match(y, x);
                    uses(match[1], match[0]) += 1;
                    distances.push_back(m_scale.distance(y, x));
                }
        const auto middle = distances.begin() + ptrdiff_t(distances.size() / 2);
        std::nth_element(distances.begin(), middle, distances.end());
        cv::blur(uses, uses, {2 * kRadius + 1, 2 * kRadius + 1});
        m_overuse = cv::max(uses - kFair, 0.0F) * (kPrice * *middle);
    }
    /// One round; every second one goes the other way. @param searches also away from neighbours'
    void improve(int round, bool searches)
    {
        const int step = round % 2 == 0 ? 1 : -1;
        forTargets(round, [&](int x, int y, const cv::Mat2i &before) {
            const auto ofNeighbour = [&](int nx, int ny, bool isInBand) {
                if (nx < 0 || ny < 0 || nx >= before.cols || ny >= before.rows ||
                    !m_scale.isTarget(ny, nx))
                    return;
                const cv::Vec2i its = isInBand ? m_scale.match(ny, nx) : before(ny, nx);
                consider(x, y, {its[0] + x - nx, its[1] + y - ny});
            };
            ofNeighbour(x - step, y, true);
            ofNeighbour(x, y - step, y / kBandRows == (y - step) / kBandRows);
            if (!searches)
                return;
            int reach = std::max(before.cols, before.rows);
            for (uint32_t i = 0; reach >= 1; reach /= 2, ++i) {
                const uint32_t random =
                    randomAt(m_seed + uint32_t(round) * 977 + i * 131, uint32_t(x), uint32_t(y));
                const cv::Vec2i match = m_scale.match(y, x);
                const int span = 2 * reach + 1;
                consider(x, y,
                         {match[0] + int(random % uint32_t(span)) - reach,
                          match[1] + int((random >> 16) % uint32_t(span)) - reach});
            }
        });
    }

private:
    bool isSource(const cv::Vec2i &match) const
    {
        return match[0] >= 0 && match[1] >= 0 && match[0] < m_scale.hole.cols &&
               match[1] < m_scale.hole.rows && m_scale.isSource(match[1], match[0]);
    }
    void consider(int x, int y, const cv::Vec2i &match)
    {
        float &own = m_scale.distance(y, x);
        cv::Vec2i &now = m_scale.match(y, x);
        if (!isSource(match) || match == now)
            return;
        const float least = own + m_overuse(now[1], now[0]) - m_overuse(match[1], match[0]);
        if (least <= 0)
            return;
        const float d = difference(m_scale.picture, {x, y}, {match[0], match[1]}, least);
        if (d < least) {
            own = d;
            now = match;
        }
    }
    template <class Body>
    void forTargets(int round, Body &&body)
    {
        const cv::Mat2i before = m_scale.match.clone();
        const int first = m_bounds.y / kBandRows;
        const int bands = (m_bounds.br().y - 1) / kBandRows - first + 1;
        const bool isBack = round % 2 != 0;
        parallelFor(bands, [&](int band) {
            const int y0 = std::max(m_bounds.y, (first + band) * kBandRows);
            const int y1 = std::min(m_bounds.br().y, (first + band + 1) * kBandRows);
            for (int i = 0; i < y1 - y0; ++i) {
                const int y = isBack ? y1 - 1 - i : y0 + i;
                for (int k = 0; k < m_bounds.width; ++k) {
                    const int x = isBack ? m_bounds.br().x - 1 - k : m_bounds.x + k;
                    if (m_scale.isTarget(y, x))
                        body(x, y, before);
                }
            }
        });
    }

    Scale &m_scale;
    uint32_t m_seed;
    std::vector<cv::Vec2i> m_sources;
    cv::Rect m_bounds;
    cv::Mat1f m_overuse; ///< by source: added to the distance
};

/// Each pixel of the hole becomes the mean of what the patches over it say, those counting more
/// that are near the border and alike.
void vote(Scale &scale)
{
    std::vector<float> distances;
    for (int y = 0; y < scale.hole.rows; ++y)
        for (int x = 0; x < scale.hole.cols; ++x)
            if (scale.isTarget(y, x))
                distances.push_back(scale.distance(y, x));
    const auto middle = distances.begin() + ptrdiff_t(distances.size() * 3 / 4);
    std::nth_element(distances.begin(), middle, distances.end());
    const float spread = std::max(*middle, 1.0F);
    cv::Mat1f weight(scale.hole.size(), 0.0F);
    for (int y = 0; y < scale.hole.rows; ++y)
        for (int x = 0; x < scale.hole.cols; ++x)
            if (scale.isTarget(y, x))
                weight(y, x) = std::pow(1.3F, -std::min(scale.depth(y, x), 60.0F)) *
                                   std::exp(-scale.distance(y, x) / (2 * spread)) +
                               1e-12F;
    cv::Mat4f out = scale.picture.clone();
    parallelRows(scale.hole.rows, 8, [&](int from, int to) {
        for (int y = from; y < to; ++y)
            for (int x = 0; x < scale.hole.cols; ++x) {
                if (!scale.hole(y, x))
                    continue;
                V4 sum{0, 0, 0, 0};
                float weights = 0;
                for (int j = -kRadius; j <= kRadius; ++j)
                    for (int i = -kRadius; i <= kRadius; ++i) {
                        const int px = x + i;
                        const int py = y + j;
                        if (px < 0 || py < 0 || px >= weight.cols || py >= weight.rows ||
                            !scale.isTarget(py, px))
                            continue;
                        const cv::Vec2i &match = scale.match(py, px);
                        const float w = weight(py, px);
                        sum += V4{w, w, w, w} * at(scale.picture, match[0] - i, match[1] - j);
                        weights += w;
                    }
                if (weights > 0)
                    out(y, x) = {sum[0] / weights, sum[1] / weights, sum[2] / weights, 0};
            }
    });
    scale.picture = out;
}

/// From the border inwards, the mean of what is known about.
void fillFlat(Scale &scale)
{
    cv::Mat1b left = scale.hole.clone();
    while (cv::countNonZero(left) > 0) {
        const cv::Mat1b before = left.clone();
        for (int y = 0; y < left.rows; ++y)
            for (int x = 0; x < left.cols; ++x) {
                if (!before(y, x))
                    continue;
                cv::Vec4f sum;
                int known = 0;
                for (int j = -1; j <= 1; ++j)
                    for (int i = -1; i <= 1; ++i)
                        if (x + i >= 0 && y + j >= 0 && x + i < left.cols && y + j < left.rows &&
                            !before(y + j, x + i)) {
                            sum += scale.picture(y + j, x + i);
                            ++known;
                        }
                if (known > 0) {
                    scale.picture(y, x) = sum / known;
                    left(y, x) = 0;
                }
            }
        if (cv::countNonZero(left) == cv::countNonZero(before))
            return; // all of it is hole
    }
}

/// A scale half as large.
Scale halved(const Scale &fine)
{
    Scale out;
    const cv::Size size((fine.hole.cols + 1) / 2, (fine.hole.rows + 1) / 2);
    // The hole's own colours say nothing: they are left out of means.
    cv::Mat1f known;
    cv::Mat1f(fine.hole.size(), 1.0F).copyTo(known);
    known.setTo(0, fine.hole);
    cv::Mat4f colours = fine.picture.clone();
    colours.setTo(cv::Scalar::all(0), fine.hole);
    cv::Mat1f share;
    cv::resize(known, share, size, 0, 0, cv::INTER_AREA);
    cv::resize(fine.mayUse, out.mayUse, size, 0, 0, cv::INTER_NEAREST);
    cv::resize(colours, out.picture, size, 0, 0, cv::INTER_AREA);
    out.hole = cv::Mat1b(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            out.hole(y, x) = share(y, x) < 0.5F ? 255 : 0;
            if (share(y, x) > 0)
                out.picture(y, x) /= share(y, x);
        }
    return out;
}

/// Brings what was found of a coarse scale to the next finer one.
void refine(const Scale &coarse, Scale &fine)
{
    for (int y = 0; y < fine.hole.rows; ++y)
        for (int x = 0; x < fine.hole.cols; ++x) {
            if (!fine.isTarget(y, x))
                continue;
            const int cx = std::min(x / 2, coarse.hole.cols - 1);
            const int cy = std::min(y / 2, coarse.hole.rows - 1);
            if (const cv::Vec2i &match = coarse.match(cy, cx); match[0] >= 0)
                fine.match(y, x) = {2 * match[0] + x % 2, 2 * match[1] + y % 2};
            if (fine.hole(y, x))
                fine.picture(y, x) = coarse.picture(cy, cx);
        }
}

/// The photo's part that is looked at, and the hole in it.
Scale readScale(const PhotoLevels &levels, const Rect &seen, const Rect &area,
                const std::vector<uint8_t> &hole)
{
    Scale out;
    out.picture = cv::Mat4f(seen.height(), seen.width());
    out.hole = cv::Mat1b(seen.height(), seen.width(), uint8_t(0));
    parallelRows(seen.height(), 16, [&](int from, int to) {
        LabRow row; // of light, here
        for (int y = from; y < to; ++y)
            for (int x = 0; x < seen.width(); x += kRowRun) {
                const int n = std::min(kRowRun, seen.width() - x);
                readLightRow(levels, 0, seen.x0 + x, seen.y0 + y, n, row.L, row.a, row.b);
                for (int i = 0; i < n; ++i) {
                    const auto code = [](float v) { return 255 * std::sqrt(std::max(v, 0.0F)); };
                    out.picture(y, x + i) = {code(row.L[i]), code(row.a[i]), code(row.b[i]), 0};
                }
            }
    });
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x)
            if (hole[size_t(y - area.y0) * size_t(area.width()) + size_t(x - area.x0)])
                out.hole(y - seen.y0, x - seen.x0) = 255;
    return out;
}

/// Room for patches at the photo's borders: its mirror image, of which nothing is copied.
void addMargin(Scale &scale)
{
    for (cv::Mat *each :
         {static_cast<cv::Mat *>(&scale.picture), static_cast<cv::Mat *>(&scale.hole)})
        cv::copyMakeBorder(*each, *each, kRadius, kRadius, kRadius, kRadius, cv::BORDER_REFLECT);
    cv::copyMakeBorder(scale.mayUse, scale.mayUse, kRadius, kRadius, kRadius, kRadius,
                       cv::BORDER_CONSTANT, cv::Scalar(0));
}

/// Down to where the hole is a few patches wide, the finest first.
std::vector<Scale> scalesOf(Scale finest)
{
    constexpr double kLeastHole = 2.0 * kRadius;
    constexpr int kLeastSide = 16 * kRadius;
    std::vector<Scale> out;
    out.push_back(std::move(finest));
    for (;;) {
        double widest = 0;
        cv::Mat1f depth;
        const Scale &last = out.back();
        cv::distanceTransform(last.hole, depth, cv::DIST_L2, 5);
        cv::minMaxLoc(depth, nullptr, &widest);
        if (widest < kLeastHole || std::min(last.hole.cols, last.hole.rows) < kLeastSide)
            return out;
        out.push_back(halved(last));
    }
}

/// Fills the hole of all scales, from coarse to fine. @return the finest is filled
Result<bool> fillScales(std::vector<Scale> &scales, uint32_t attempt, const Run &run)
{
    const int last = int(scales.size()) - 1;
    bool isFilled = false;
    for (int s = last; s >= 0; --s) {
        Scale &scale = scales[size_t(s)];
        prepare(scale);
        MatchSearch search(scale, attempt * 7919U + uint32_t(s));
        if (!search.hasSources())
            continue; // too small for a patch: the next finer one has more
        if (isFilled)
            refine(scales[size_t(s) + 1], scale);
        else
            fillFlat(scale);
        search.begin();
        if (isFilled) { // what is copied there has the texture that the coarse picture lacks
            vote(scale);
            search.refresh();
        }
        // Structure is settled where it is coarse; the finest scales only follow.
        const int rounds = s >= 2 ? 8 : s == 1 ? 3 : 1;
        const int searches = s >= 2 ? 4 : 2;
        for (int round = 0; round < rounds; ++round) {
            for (int i = 0; i < searches; ++i) {
                search.weighUse();
                search.improve(round * searches + i, s > 0);
                if (run.stopped())
                    return Error{ErrorKind::Cancelled, {}, {}};
            }
            vote(scale);
            search.refresh();
        }
        isFilled = true;
        run.report(float(last - s + 1) / float(last + 1));
    }
    return isFilled;
}

/// What is looked at for a hole in an area: as much on each side as that is large.
Rect seenFor(const Rect &area, const Rect &source, const Rect &photo)
{
    constexpr int kLeastRoom = 96;
    const int room = std::max(kLeastRoom, std::max(area.width(), area.height()) * 3 / 4);
    const Rect near =
        intersected({area.x0 - room, area.y0 - room, area.x1 + room, area.y1 + room}, photo);
    return source.isEmpty() ? near : united(near, intersected(source, photo));
}

} // namespace

Result<LightTile> fillHole(const PhotoLevels &levels, const Rect &area,
                           const std::vector<uint8_t> &hole, const FillOptions &options,
                           const Run &run)
{
    const Photo &photo = levels.photo();
    LightTile out(area);
    for (int y = area.y0; y < area.y1; ++y)
        readLightRow(levels, 0, area.x0, y, area.width(), out.row(0, y), out.row(1, y),
                     out.row(2, y));
    if (std::all_of(hole.begin(), hole.end(), [](uint8_t v) { return v == 0; }))
        return out;
    constexpr size_t kMostArea =
        size_t(3000) * 3000; // px: what is looked at is some six times that
    if (area.area() > kMostArea)
        return Error{ErrorKind::InvalidArgument, photo.path,
                     "this is too large to be filled from the rest: mark one thing at a time"};
    const Rect seen = seenFor(area, options.source, photo.rect());
    Scale finest = readScale(levels, seen, area, hole);
    const Rect from = options.source.isEmpty() ? seen : intersected(options.source, seen);
    finest.mayUse = cv::Mat1b(finest.hole.size(), uint8_t(0));
    finest.mayUse(cv::Rect(from.x0 - seen.x0, from.y0 - seen.y0, from.width(), from.height())) =
        255;
    addMargin(finest);
    std::vector<Scale> scales = scalesOf(std::move(finest));
    const auto filled = fillScales(scales, options.attempt, run);
    if (!filled)
        return Error{filled.error().kind, photo.path, {}};
    if (!*filled)
        return Error{ErrorKind::InvalidArgument, photo.path,
                     "there is nothing round about to fill this from: mark less, or let more be "
                     "used"};
    const Scale &fine = scales[0];
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x)
            if (hole[size_t(y - area.y0) * size_t(area.width()) + size_t(x - area.x0)]) {
                const cv::Vec4f &v = fine.picture(y - seen.y0 + kRadius, x - seen.x0 + kRadius);
                for (int c = 0; c < 3; ++c) {
                    const float root = v[c] / 255;
                    *out.at(c, x, y) = root * root;
                }
            }
    return out;
}

} // namespace buttonhole
