#include "clean/find_spots.h"

#include "io/lab_row.h"
#include "raster/parallel_tiles.h"

#include <opencv2/imgproc.hpp>

#include <array>
#include <cmath>
#include <mutex>
#include <tuple>

namespace buttonhole
{

namespace
{

constexpr int kSeenEdge = 3600; ///< px: larger photos are looked at in half their size
constexpr float kLeastL = 0.05F;
constexpr float kOfRadius = 1.3F; ///< a spot's radius by the smaller Gaussian that shows it best

/// A place that is darker than what is about it.
struct Candidate {
    float x; ///< px of what is looked at
    float y;
    float radius;
    float stands; ///< out of what else there is about, in its own standard deviations
};

/// What a candidate is judged by; see scoreOf().
struct Ground {
    float depth = 0;  ///< of its middle, of the lightness about it
    float spread = 0; ///< standard deviation of the ground, likewise
    float least = 0;  ///< depth of its shallowest side, of its own
    float uneven = 0; ///< the most that a side of the ground is off, of its depth
    float rim = 0;    ///< depth about its rim, of its own
};

cv::Mat1f lightnessOf(const PhotoLevels &levels, int level)
{
    const Rect all = levels.rectOf(level);
    cv::Mat1f out(all.height(), all.width());
    parallelRows(out.rows, 16, [&](int from, int to) {
        LabRow row;
        for (int y = from; y < to; ++y)
            for (int x = 0; x < out.cols; x += kRowRun) {
                const int n = std::min(kRowRun, out.cols - x);
                row.read(levels, level, x, y, n);
                std::copy_n(row.L, n, &out(y, x));
            }
    });
    return out;
}

/// Adds what stands out of one picture at some sizes.
/// @param scale px of what is looked at to one of the picture's
void addCandidates(const cv::Mat1f &picture, float scale, const std::array<double, 4> &sigmas,
                   std::vector<Candidate> &out)
{
    constexpr float kLeast = 0.0015F;
    constexpr float kMostCounted = 0.006F; // edges are not what else there is
    constexpr float kFloor = 0.0002F;
    constexpr float kStands = 3.5F;
    constexpr double kAbout = 24; // sigmas
    std::mutex mutex;
    parallelFor(int(sigmas.size()), [&](int i) {
        const double sigma = sigmas[size_t(i)];
        cv::Mat1f fine, coarse, mean;
        cv::GaussianBlur(picture, fine, {}, sigma);
        cv::GaussianBlur(picture, coarse, {}, 2 * sigma);
        cv::Mat1f darker(picture.size());
        cv::Mat1f squares(picture.size());
        for (int y = 0; y < picture.rows; ++y)
            for (int x = 0; x < picture.cols; ++x) {
                const float d = (coarse(y, x) - fine(y, x)) / std::max(coarse(y, x), kLeastL);
                darker(y, x) = d;
                const float counted = std::clamp(d, -kMostCounted, kMostCounted);
                squares(y, x) = counted * counted;
            }
        const int side = int(kAbout * sigma) | 1;
        cv::blur(squares, mean, {side, side});
        cv::dilate(darker, fine, cv::Mat1b::ones(5, 5));
        std::vector<Candidate> found;
        for (int y = 0; y < picture.rows; ++y)
            for (int x = 0; x < picture.cols; ++x) {
                const float d = darker(y, x);
                if (d <= kLeast || d < fine(y, x))
                    continue;
                const float stands = d / (std::sqrt(std::max(mean(y, x), 0.0F)) + kFloor);
                if (stands > kStands)
                    found.push_back({(float(x) + 0.5F) * scale - 0.5F,
                                     (float(y) + 0.5F) * scale - 0.5F,
                                     float(sigma) * scale * kOfRadius, stands});
            }
        const std::scoped_lock lock(mutex);
        out.insert(out.end(), found.begin(), found.end());
    });
}

constexpr float kNear = 1.9F; ///< the ground's ring, radii
constexpr float kFar = 3.4F;

/// All px about a candidate, with their places from its middle and their distance in radii.
template <class Body>
void forAllAbout(const cv::Mat1f &lightness, const Candidate &at, int reach, Body &&body)
{
    const int cx = int(std::lround(at.x));
    const int cy = int(std::lround(at.y));
    for (int y = cy - reach; y <= cy + reach; ++y)
        for (int x = cx - reach; x <= cx + reach; ++x) {
            const float dx = float(x) - at.x;
            const float dy = float(y) - at.y;
            const float r = std::sqrt(dx * dx + dy * dy) / at.radius;
            if (r < kFar)
                body(dx, dy, r, lightness(y, x));
        }
}

/// The plane through the ground's ring: mean, slope along x and along y.
bool fitGround(const cv::Mat1f &lightness, const Candidate &at, int reach, cv::Vec3d &plane)
{
    cv::Matx33d sums = cv::Matx33d::zeros();
    cv::Vec3d wanted;
    forAllAbout(lightness, at, reach, [&](float dx, float dy, float r, float L) {
        if (r <= kNear)
            return;
        const cv::Vec3d terms(1, double(dx), double(dy));
        sums += terms * terms.t();
        wanted += terms * double(L);
    });
    return cv::solve(sums, wanted, plane, cv::DECOMP_CHOLESKY);
}

/// A mean that is being gathered.
struct Mean {
    double sum = 0;
    double count = 0;
    void add(double v) { sum += v, count += 1; }
    double of() const { return count > 0 ? sum / count : 0; }
};

/// Looks at the ground of a candidate; false where it lies at the border, or is far from a spot.
bool lookAt(const cv::Mat1f &lightness, const Candidate &at, Ground &out)
{
    constexpr size_t kSides = 8;
    const int reach = int(std::ceil(3.6F * at.radius)) + 2;
    const int cx = int(std::lround(at.x));
    const int cy = int(std::lround(at.y));
    cv::Vec3d plane;
    if (cx < reach || cy < reach || cx + reach >= lightness.cols || cy + reach >= lightness.rows ||
        !fitGround(lightness, at, reach, plane))
        return false;
    Mean core, rim, ground, squares;
    std::array<Mean, kSides> side, off;
    forAllAbout(lightness, at, reach, [&](float dx, float dy, float r, float L) {
        const double base =
            std::max(plane[0] + plane[1] * double(dx) + plane[2] * double(dy), double(kLeastL));
        const double d = (base - double(L)) / base;
        const double turn = (std::atan2(double(dy), double(dx)) + CV_PI) / (2 * CV_PI);
        const size_t k = size_t(turn * double(kSides)) % kSides;
        if (r < 0.6F)
            core.add(d);
        if (r > 0.35F && r < 0.95F)
            side[k].add(d);
        if (r > 0.9F && r < 1.2F)
            rim.add(d);
        if (r > kNear)
            ground.add(d), squares.add(d * d), off[k].add(d);
    });
    const double depth = core.of();
    double least = depth;
    double uneven = 0;
    for (size_t k = 0; k < kSides; ++k) {
        least = std::min(least, side[k].count > 0 ? side[k].of() : depth);
        uneven = std::max(uneven, std::abs(off[k].of()));
    }
    const double spread = std::sqrt(std::max(squares.of() - ground.of() * ground.of(), 1e-12));
    out = {float(depth), float(spread), float(least / depth), float(uneven / depth),
           float(rim.of() / depth)};
    constexpr double kLeastDepth = 0.006;
    constexpr double kMostDepth = 0.12;
    return depth >= kLeastDepth && depth <= kMostDepth && depth >= 1.8 * spread &&
           out.least >= 0.15F && out.uneven <= 0.45F && out.spread <= 0.03F;
}

/// How far a spot really reaches: to where rings about it are as light as those far off. The size
/// at which it stands out says that only nearly, and what is left of its rim would be seen.
float reachOf(const cv::Mat1f &lightness, const Candidate &at)
{
    constexpr float kLooks = 4;       // radii
    constexpr float kNothing = 0.07F; // of its depth
    const int rings = int(kLooks * at.radius) + 6;
    const int cx = int(std::lround(at.x));
    const int cy = int(std::lround(at.y));
    std::vector<Mean> means(static_cast<size_t>(rings));
    for (int y = std::max(0, cy - rings); y < std::min(lightness.rows, cy + rings + 1); ++y)
        for (int x = std::max(0, cx - rings); x < std::min(lightness.cols, cx + rings + 1); ++x) {
            const auto ring = size_t(std::hypot(float(x) - at.x, float(y) - at.y) + 0.5F);
            if (ring < means.size())
                means[ring].add(double(lightness(y, x)));
        }
    Mean far;
    Mean core;
    for (int i = rings * 3 / 4; i < rings; ++i)
        far.add(means[size_t(i)].of());
    for (int i = 0; i <= int(0.4F * at.radius); ++i)
        core.add(means[size_t(i)].of());
    const double nothing = double(kNothing) * (far.of() - core.of());
    for (int i = 1; i < rings * 3 / 4; ++i)
        if (far.of() - means[size_t(i)].of() < nothing)
            return std::max(float(i), 0.8F * at.radius);
    return at.radius;
}

/// How much speaks for a spot. Fitted by logistic regression to dust planted on seven freely
/// licensed photographs and demo photos, each judged by a fit to the others (docs/quality.md).
float scoreOf(const Candidate &at, const Ground &ground)
{
    constexpr float kBy[] = {7.2547F,  -10.9184F, 2.6360F, -1.0547F, -7.4907F, -34.1920F, 0.8099F,
                             10.0397F, 2.2132F,   0.3849F, 0.2123F,  0.2051F,  -5.3746F};
    constexpr float kBias = -104.2848F;
    const float steep = ground.depth / ground.spread;
    const float of[] = {std::log(at.stands),
                        std::log(steep * 2 * at.radius),
                        std::clamp(ground.least, 0.05F, 1.0F),
                        std::log(ground.uneven + 0.02F),
                        std::log(ground.spread),
                        std::log(ground.depth),
                        std::clamp(ground.rim, 0.0F, 1.2F),
                        std::log(2 * at.radius)};
    constexpr int kSquared[] = {0, 1, 3, 4, 5};
    float out = kBias;
    for (size_t i = 0; i < std::size(of); ++i)
        out += kBy[i] * of[i];
    for (size_t i = 0; i < std::size(kSquared); ++i) {
        const float v = of[kSquared[i]];
        out += kBy[std::size(of) + i] * v * v;
    }
    return out;
}

} // namespace

Result<std::vector<Spot>> findSpots(const PhotoLevels &levels, const Run &run)
{
    constexpr float kLeastScore = -1.5F;
    const Photo &photo = levels.photo();
    const int level = levels.count() > 1 && std::max(photo.width, photo.height) > kSeenEdge ? 1 : 0;
    const auto stopped = [&] { return Error{ErrorKind::Cancelled, photo.path, {}}; };
    const cv::Mat1f lightness = lightnessOf(levels, level);
    if (run.stopped())
        return stopped();
    std::vector<Candidate> candidates;
    addCandidates(lightness, 1, {1.2, 1.7, 2.4, 3.4}, candidates);
    if (run.stopped())
        return stopped();
    cv::Mat1f half;
    cv::resize(lightness, half, {lightness.cols / 2, lightness.rows / 2}, 0, 0, cv::INTER_AREA);
    addCandidates(half, 2, {2.0, 2.8, 4.0, 5.6}, candidates);
    // In an order that does not hang on threads.
    std::sort(candidates.begin(), candidates.end(), [](const Candidate &a, const Candidate &b) {
        return std::tie(b.stands, a.y, a.x, a.radius) < std::tie(a.stands, b.y, b.x, b.radius);
    });
    std::vector<float> scores(candidates.size(), kLeastScore - 1);
    parallelRows(int(candidates.size()), 256, [&](int from, int to) {
        if (run.stopped())
            return;
        for (int i = from; i < to; ++i)
            if (Ground ground; lookAt(lightness, candidates[size_t(i)], ground))
                scores[size_t(i)] = scoreOf(candidates[size_t(i)], ground);
    });
    if (run.stopped())
        return stopped();
    // One spot stands out at several sizes: the one that does most counts.
    const auto scale = float(1 << level);
    std::vector<Spot> out;
    for (size_t i = 0; i < candidates.size(); ++i) {
        const Candidate &at = candidates[i];
        if (scores[i] <= kLeastScore)
            continue;
        const Spot spot{(at.x + 0.5F) * scale, (at.y + 0.5F) * scale,
                        reachOf(lightness, at) * scale};
        const bool isThere = std::any_of(out.begin(), out.end(), [&](const Spot &other) {
            return std::hypot(other.x - spot.x, other.y - spot.y) <
                   1.5F * std::max(other.radiusPx, spot.radiusPx);
        });
        if (!isThere)
            out.push_back(spot);
    }
    return out;
}

} // namespace buttonhole
