#include "segment/edge_snap.h"

#include "raster/parallel_tiles.h"
#include "segment/cut.h"
#include "segment/look_frame.h"

#include <opencv2/imgproc.hpp>

#include <functional>

namespace buttonhole
{

namespace
{

constexpr int kTile = 128;
constexpr int kMargin = 8; ///< of a tile: what its own band is cut with
/// px to either side of where the edge was one level coarser: in more it runs off along what looks
/// alike
constexpr int kBand = 1;
constexpr int kAround = 20; ///< px: how far local colours are gathered
constexpr float kTie = 3;
constexpr float kLocal = 2;      ///< evidence of the colours near by, logits
constexpr float kMostGlobal = 2; ///< and at most that of the region's colours
constexpr float kSteep = 1.2F;   ///< of coverage over the share in a mixture: noise is cut off

cv::Rect toCv(const Rect &r)
{
    return {r.x0, r.y0, r.width(), r.height()};
}

/// A part of a level with its labels, and what is sure in it.
struct EdgePart {
    cv::Mat3f lab;
    cv::Mat1b labels;
    cv::Mat1b open;     ///< the pixels at most kBand from an edge
    cv::Mat1f share;    ///< 0..1 where open: of the local inside's colour in the pixel
    cv::Mat1f contrast; ///< between the local colours, OKLab
};

/// The mean colour of the pixels in a mask, within kAround of each place. They change slowly: kept
/// at a quarter of the size.
class LocalMean
{
public:
    LocalMean(const cv::Mat3f &lab, const cv::Mat1b &mask)
    {
        const cv::Size small((lab.cols + kCell - 1) / kCell, (lab.rows + kCell - 1) / kCell);
        m_sum = cv::Mat4f(small, cv::Vec4f());
        constexpr int kEvery = 2; // many hundreds are left to take the mean of
        for (int y = 0; y < lab.rows; y += kEvery)
            for (int x = 0; x < lab.cols; x += kEvery)
                if (mask(y, x)) {
                    const cv::Vec3f &c = lab(y, x);
                    m_sum(y / kCell, x / kCell) += cv::Vec4f(c[0], c[1], c[2], 1);
                }
        const cv::Size window(2 * kAround / kCell + 1, 2 * kAround / kCell + 1);
        cv::boxFilter(m_sum, m_sum, CV_32F, window, {-1, -1}, false, cv::BORDER_CONSTANT);
    }

    /// @return false: there is nothing near by
    bool read(int x, int y, cv::Vec3f &mean) const
    {
        const float sx = std::clamp((float(x) + 0.5F) / kCell - 0.5F, 0.0F, float(m_sum.cols - 1));
        const float sy = std::clamp((float(y) + 0.5F) / kCell - 0.5F, 0.0F, float(m_sum.rows - 1));
        const int x0 = int(sx);
        const int y0 = int(sy);
        const int x1 = std::min(x0 + 1, m_sum.cols - 1);
        const int y1 = std::min(y0 + 1, m_sum.rows - 1);
        const float u = sx - float(x0);
        const float v = sy - float(y0);
        const cv::Vec4f sum = (m_sum(y0, x0) * (1 - u) + m_sum(y0, x1) * u) * (1 - v) +
                              (m_sum(y1, x0) * (1 - u) + m_sum(y1, x1) * u) * v;
        constexpr float kOne = 0.5F;
        if (sum[3] < kOne)
            return false;
        mean = cv::Vec3f(sum[0], sum[1], sum[2]) / sum[3];
        return true;
    }

private:
    static constexpr int kCell = 4; ///< px
    cv::Mat4f m_sum;                ///< OKLab, and how many
};

/// Fills share and contrast: each pixel as a mixture of the colours just inside and just outside.
void unmix(EdgePart &part, const cv::Mat1b &surelyIn, const cv::Mat1b &surelyOut)
{
    const LocalMean inside(part.lab, surelyIn);
    const LocalMean outside(part.lab, surelyOut);
    part.share = cv::Mat1f(part.lab.size(), 0.5F);
    part.contrast = cv::Mat1f::zeros(part.lab.size());
    for (int y = 0; y < part.lab.rows; ++y)
        for (int x = 0; x < part.lab.cols; ++x) {
            cv::Vec3f in;
            cv::Vec3f out;
            if (part.open(y, x) == 0 || !inside.read(x, y, in) || !outside.read(x, y, out))
                continue;
            const cv::Vec3f axis = in - out;
            const float length = axis.dot(axis);
            part.share(y, x) =
                std::clamp((part.lab(y, x) - out).dot(axis) / std::max(length, 1e-6F), 0.0F, 1.0F);
            part.contrast(y, x) = std::sqrt(length);
        }
}

EdgePart partOf(const PhotoLevels &levels, int level, const Rect &area, const cv::Mat1b &labels)
{
    EdgePart part;
    part.labels = labels.clone();
    const cv::Mat disc =
        cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * kBand + 1, 2 * kBand + 1});
    cv::Mat1b wide;
    cv::Mat1b narrow;
    cv::dilate(labels, wide, disc);
    cv::erode(labels, narrow, disc);
    part.open = wide != narrow;
    part.lab = readLab(levels, level, area);
    unmix(part, narrow, cv::Mat1b(~wide));
    return part;
}

Rect moved(const Rect &r, int x, int y)
{
    return {r.x0 + x, r.y0 + y, r.x1 + x, r.y1 + y};
}

Rect grown(const Rect &r, int by, const Rect &within)
{
    return intersected(within, {r.x0 - by, r.y0 - by, r.x1 + by, r.y1 + by});
}

/// What of a tile may lie in the band round an edge.
Rect nearEdge(const cv::Mat1b &labels, const Rect &tile)
{
    const Rect near = grown(tile, kBand + 1, {0, 0, labels.cols, labels.rows});
    cv::Mat1b edges;
    cv::morphologyEx(labels(toCv(near)), edges, cv::MORPH_GRADIENT, cv::Mat1b::ones(3, 3));
    const cv::Rect found = cv::boundingRect(edges);
    if (found.empty())
        return {};
    const Rect edge = moved({found.x, found.y, found.br().x, found.br().y}, near.x0, near.y0);
    return grown(edge, kBand + 1, tile);
}

/// f(own, wide): what lies near an edge of each tile of a raster, and the same with its margin.
void forEdgeTiles(const cv::Mat1b &labels, const Run &run,
                  const std::function<void(const Rect &, const Rect &)> &f)
{
    const Rect all{0, 0, labels.cols, labels.rows};
    const int across = (all.x1 + kTile - 1) / kTile;
    const int down = (all.y1 + kTile - 1) / kTile;
    parallelFor(across * down, [&](int i) {
        const int x = i % across * kTile;
        const int y = i / across * kTile;
        const Rect tile = intersected(all, {x, y, x + kTile, y + kTile});
        const Rect own = run.stopped() ? Rect() : nearEdge(labels, tile);
        if (!own.isEmpty())
            f(own, grown(own, kMargin, all));
    });
}

/// Seeks the edge in one level. `labels` covers `area` of that level.
void snapLevel(const PhotoLevels &levels, int level, const Rect &area, cv::Mat1b &labels,
               const ColourEvidence &colours, const Run &run)
{
    const cv::Mat1b before = labels.clone();
    forEdgeTiles(before, run, [&](const Rect &own, const Rect &wide) {
        EdgePart part = partOf(levels, level, moved(wide, area.x0, area.y0), before(toCv(wide)));
        cv::Mat1f evidence(part.lab.size(), 0.0F);
        for (int y = 0; y < part.lab.rows; ++y)
            for (int x = 0; x < part.lab.cols; ++x)
                if (part.open(y, x)) {
                    const float share = shareOf(colours.inside, colours.outside,
                                                ColourDensity::binOf(part.lab(y, x)));
                    const float sure = std::min(part.contrast(y, x) / 0.06F, 1.0F);
                    evidence(y, x) =
                        kLocal * sure * (part.share(y, x) - 0.5F) +
                        std::clamp(std::log(share / (1 - share)), -kMostGlobal, kMostGlobal);
                }
        cutGraph(part.lab, evidence, part.labels, part.open, kTie);
        part.labels(toCv(moved(own, -wide.x0, -wide.y0))).copyTo(labels(toCv(own)));
    });
}

/// Coverage of one level: labels, soft where a pixel near the edge is a mixture.
cv::Mat1b softened(const PhotoLevels &levels, int level, const Rect &area, const cv::Mat1b &labels,
                   const Run &run)
{
    cv::Mat1b out;
    cv::GaussianBlur(labels, out, {3, 3}, 0);
    forEdgeTiles(labels, run, [&](const Rect &own, const Rect &wide) {
        const EdgePart part =
            partOf(levels, level, moved(wide, area.x0, area.y0), labels(toCv(wide)));
        for (int y = own.y0; y < own.y1; ++y)
            for (int x = own.x0; x < own.x1; ++x) {
                const cv::Point p(x - wide.x0, y - wide.y0);
                if (part.open(p) == 0)
                    continue;
                const float sure = std::clamp((part.contrast(p) - 0.04F) / 0.08F, 0.0F, 1.0F);
                // The cut says to which side it belongs, the mixture how much.
                const bool isIn = labels(y, x) != 0;
                const float share = std::clamp((part.share(p) - 0.5F) * kSteep + 0.5F,
                                               isIn ? 0.5F : 0.0F, isIn ? 1.0F : 0.5F);
                out(y, x) =
                    cv::saturate_cast<uint8_t>(float(out(y, x)) * (1 - sure) + 255 * share * sure);
            }
    });
    return out;
}

/// Labels enlarged to `size`, smoothly, so that stairs do not survive as corners.
cv::Mat1b enlarged(const cv::Mat1b &labels, cv::Size size)
{
    cv::Mat1b out;
    cv::resize(labels, out, size, 0, 0, cv::INTER_LINEAR);
    cv::threshold(out, out, 127, 255, cv::THRESH_BINARY);
    return out;
}

/// Writes the coverage of one level as a plane of the photo's size.
MaskPlane planeFrom(const cv::Mat1b &soft, const Rect &area, int level, const Rect &photo)
{
    MaskPlane plane(photo.x1, photo.y1);
    const Rect whole = intersected(
        photo, {area.x0 << level, area.y0 << level, area.x1 << level, area.y1 << level});
    parallelTiles(whole, [&](const Rect &part) {
        const Rect small = intersected(atLevel(part, level), area);
        if (cv::countNonZero(soft(toCv(moved(small, -area.x0, -area.y0)))) == 0)
            return;
        uint16_t *to = plane.writable(part.x0 / kTileSize, part.y0 / kTileSize);
        for (int y = part.y0; y < part.y1; ++y) {
            const uint8_t *from = soft[(y >> level) - area.y0];
            uint16_t *row = to + size_t(y % kTileSize) * kTileSize;
            for (int x = part.x0; x < part.x1; ++x)
                row[x % kTileSize] = uint16_t(from[(x >> level) - area.x0] * 257);
        }
        plane.compact(part);
    });
    return plane;
}

} // namespace

Result<MaskPlane> snapEdge(const PhotoLevels &levels, const Labelled &coarse,
                           const ColourEvidence &colours, int finest, const Run &run)
{
    int level = 0;
    while (level + 1 < levels.count() && (coarse.area.width() >> (level + 1)) >= coarse.labels.cols)
        ++level;
    level = std::max(level, finest);
    cv::Mat1b now = coarse.labels;
    for (;; --level) {
        const Rect part = intersected(atLevel(coarse.area, level), levels.rectOf(level));
        now = enlarged(now, {part.width(), part.height()});
        snapLevel(levels, level, part, now, colours, run);
        if (run.stopped())
            return Error{ErrorKind::Cancelled, "region", {}};
        if (level == finest)
            return planeFrom(softened(levels, level, part, now, run), part, level,
                             levels.photo().rect());
    }
}

} // namespace buttonhole
