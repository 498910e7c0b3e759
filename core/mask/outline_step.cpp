#include "mask/outline_step.h"

#include "mask/step_json.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr double kFlatness = 0.02; ///< px of the photo
constexpr int kOne = 65536;        ///< a whole pixel's area

PhotoPoint plus(const PhotoPoint &a, const PhotoPoint &b)
{
    return {a.x + b.x, a.y + b.y};
}

PhotoPoint minus(const PhotoPoint &a, const PhotoPoint &b)
{
    return {a.x - b.x, a.y - b.y};
}

PhotoPoint between(const PhotoPoint &a, const PhotoPoint &b, float t)
{
    return {a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)};
}

bool isZero(const PhotoPoint &p)
{
    return p.x == 0 && p.y == 0;
}

/// Sums one straight piece into rows of signed area. `sums` has a column more than the area.
class PieceSummer
{
public:
    PieceSummer(const Rect &area, std::vector<int> &sums) : m_area(area), m_sums(sums) {}

    void add(double x0, double y0, double x1, double y1)
    {
        if (y0 == y1)
            return;
        const int direction = y0 < y1 ? 1 : -1;
        if (direction < 0) {
            std::swap(x0, x1);
            std::swap(y0, y1);
        }
        const double slope = (x1 - x0) / (y1 - y0);
        const int first = std::max(int(std::floor(y0)), m_area.y0);
        const int last = std::min(int(std::ceil(y1)), m_area.y1);
        for (int y = first; y < last; ++y) {
            const double top = std::max(double(y), y0);
            const double bottom = std::min(double(y + 1), y1);
            if (bottom > top)
                addInRow(y, x0 + (top - y0) * slope, x0 + (bottom - y0) * slope,
                         direction * (bottom - top));
        }
    }

private:
    /// A piece within one row, `height` of it: what lies right of it gains that much.
    void addInRow(int y, double xa, double xb, double height)
    {
        const double left = std::min(xa, xb);
        const double right = std::max(xa, xb);
        const int whole = int(std::lround(height * kOne));
        const int firstPixel = int(std::floor(left));
        const int lastPixel = int(std::ceil(right)) - 1;
        if (lastPixel <= firstPixel) {
            const double middle = (left + right) / 2 - firstPixel;
            const int own = int(std::lround(height * (1 - middle) * kOne));
            put(y, firstPixel, own);
            put(y, firstPixel + 1, whole - own);
            return;
        }
        // The share of the pixel columns up to each, whose differences are summed: nothing is lost.
        const double perColumn = height / (right - left);
        int before = 0;
        // Columns before the area's first count as one, those behind its last as none.
        const int begin = std::min(std::max(firstPixel, m_area.x0 - 1), lastPixel + 1);
        const int end = std::min(lastPixel + 1, m_area.x1 - 1);
        for (int x = begin; x <= end; ++x) {
            const double from = std::max(left, double(x));
            const double to = std::min(right, double(x + 1));
            double covered = 0; // of this pixel
            if (to > from)
                covered = perColumn * (to - from) * (x + 1 - (from + to) / 2);
            covered += perColumn * std::max(0.0, std::min(right, double(x)) - left);
            const int here = x <= lastPixel ? int(std::lround(covered * kOne)) : whole;
            put(y, x, here - before);
            before = here;
        }
    }

    void put(int y, int x, int value)
    {
        if (x >= m_area.x1)
            return;
        const size_t column = size_t(std::max(x - m_area.x0, 0));
        m_sums[size_t(y - m_area.y0) * size_t(m_area.width()) + column] += value;
    }

    const Rect m_area;
    std::vector<int> &m_sums;
};

} // namespace

std::vector<PhotoPoint> flattened(const Outline &outline, bool isClosed)
{
    std::vector<PhotoPoint> out;
    const size_t n = outline.size();
    for (size_t i = 0; i < n; ++i) {
        out.push_back(outline[i].at);
        if (i + 1 == n && !isClosed)
            break;
        const OutlinePoint &from = outline[i];
        const OutlinePoint &to = outline[(i + 1) % n];
        if (isZero(from.out) && isZero(to.in))
            continue;
        const PhotoPoint p[4] = {from.at, plus(from.at, from.out), plus(to.at, to.in), to.at};
        // Second differences bound how far a chord strays: pieces needed go by their root.
        const double bend =
            std::max(std::hypot(p[0].x - 2 * p[1].x + p[2].x, p[0].y - 2 * p[1].y + p[2].y),
                     std::hypot(p[1].x - 2 * p[2].x + p[3].x, p[1].y - 2 * p[2].y + p[3].y));
        const int pieces = std::clamp(int(std::ceil(std::sqrt(0.75 * bend / kFlatness))), 1, 500);
        for (int k = 1; k < pieces; ++k) {
            const float t = float(k) / float(pieces);
            const float u = 1 - t;
            const float w[4] = {u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t};
            out.push_back({w[0] * p[0].x + w[1] * p[1].x + w[2] * p[2].x + w[3] * p[3].x,
                           w[0] * p[0].y + w[1] * p[1].y + w[2] * p[2].y + w[3] * p[3].y});
        }
    }
    return out;
}

void splitSegment(Outline &outline, size_t index, float t)
{
    OutlinePoint &from = outline[index];
    OutlinePoint &to = outline[(index + 1) % outline.size()];
    OutlinePoint fresh{between(from.at, to.at, t), {}, {}};
    if (!isZero(from.out) || !isZero(to.in)) {
        const PhotoPoint a = plus(from.at, from.out);
        const PhotoPoint b = plus(to.at, to.in);
        const PhotoPoint ab = between(a, b, t);
        const PhotoPoint before = between(between(from.at, a, t), ab, t);
        const PhotoPoint after = between(ab, between(b, to.at, t), t);
        fresh.at = between(before, after, t);
        fresh.in = minus(before, fresh.at);
        fresh.out = minus(after, fresh.at);
        from.out = {t * from.out.x, t * from.out.y};
        to.in = {(1 - t) * to.in.x, (1 - t) * to.in.y};
    }
    outline.insert(outline.begin() + ptrdiff_t(index) + 1, fresh);
}

Outline simplified(const Outline &drawn, double withinPx)
{
    std::vector<cv::Point2f> points;
    for (const OutlinePoint &p : drawn)
        points.emplace_back(p.at.x, p.at.y);
    std::vector<cv::Point2f> fewer;
    cv::approxPolyDP(points, fewer, withinPx, true);
    Outline out;
    for (const cv::Point2f &p : fewer)
        out.push_back({{p.x, p.y}, {}, {}});
    return out;
}

void fillPolygon(const std::vector<PhotoPoint> &points, int level, const Rect &area, uint16_t *out)
{
    std::vector<int> sums(area.area());
    PieceSummer summer(area, sums);
    const double scale = 1.0 / (1 << level);
    // Heights that are whole numbers of the unit cancel to nothing beyond the far side.
    const auto heightOf = [&](const PhotoPoint &p) {
        return std::round(double(p.y) * scale * kOne) / kOne;
    };
    for (size_t i = 0; i < points.size(); ++i) {
        const PhotoPoint &a = points[i];
        const PhotoPoint &b = points[(i + 1) % points.size()];
        summer.add(double(a.x) * scale, heightOf(a), double(b.x) * scale, heightOf(b));
    }
    const int width = area.width();
    for (int y = 0; y < area.height(); ++y) {
        int sum = 0;
        for (int x = 0; x < width; ++x) {
            const size_t i = size_t(y) * size_t(width) + size_t(x);
            sum += sums[i];
            out[i] = uint16_t(std::min(std::abs(sum), 65535));
        }
    }
}

OutlineStep::OutlineStep(std::vector<Outline> outlines) : m_outlines(std::move(outlines))
{
    for (const Outline &outline : m_outlines) {
        Flat flat{flattened(outline), 1e9F, 1e9F, -1e9F, -1e9F};
        for (const PhotoPoint &p : flat.points) {
            flat.x0 = std::min(flat.x0, p.x);
            flat.y0 = std::min(flat.y0, p.y);
            flat.x1 = std::max(flat.x1, p.x);
            flat.y1 = std::max(flat.y1, p.y);
        }
        if (flat.points.size() >= 3)
            m_flat.push_back(std::move(flat));
    }
}

StepShape::Effect OutlineStep::coverage(const PhotoLevels &, int level, const Rect &area,
                                        uint16_t *lo, uint16_t *) const
{
    const auto side = float(1 << level);
    const size_t n = area.area();
    std::vector<uint16_t> one;
    bool isEmpty = true;
    for (const Flat &flat : m_flat) {
        if (flat.x1 <= float(area.x0) * side || flat.x0 >= float(area.x1) * side ||
            flat.y1 <= float(area.y0) * side || flat.y0 >= float(area.y1) * side)
            continue;
        one.resize(n);
        fillPolygon(flat.points, level, area, isEmpty ? lo : one.data());
        if (!isEmpty) // what one of two covers, not both
            for (size_t i = 0; i < n; ++i) {
                const uint64_t both = (uint64_t(lo[i]) * one[i] * 2 + 32767) / 65535;
                lo[i] = uint16_t(uint64_t(lo[i]) + one[i] - both);
            }
        isEmpty = false;
    }
    return isEmpty ? Effect::None : Effect::Raises;
}

std::shared_ptr<const StepShape> OutlineStep::placedBy(const FrameScale &scale) const
{
    std::vector<Outline> outlines = m_outlines;
    for (Outline &outline : outlines)
        for (OutlinePoint &point : outline)
            point = {scale.of(point.at), scale.of(point.in), scale.of(point.out)};
    return std::make_shared<OutlineStep>(std::move(outlines));
}

StepFacts OutlineStep::facts() const
{
    size_t points = 0;
    for (const Outline &outline : m_outlines)
        points += outline.size();
    return {{"lines", double(m_outlines.size())}, {"points", double(points)}};
}

void OutlineStep::toJson(json &out, MaskWriter *, const std::string &) const
{
    json outlines = json::array();
    for (const Outline &outline : m_outlines) {
        json points = json::array();
        for (const OutlinePoint &p : outline) {
            if (isZero(p.in) && isZero(p.out))
                points.push_back({p.at.x, p.at.y});
            else
                points.push_back({p.at.x, p.at.y, p.in.x, p.in.y, p.out.x, p.out.y});
        }
        outlines.push_back(std::move(points));
    }
    out["outlines"] = std::move(outlines);
}

Result<std::shared_ptr<const StepShape>> OutlineStep::fromJson(const json &in, MaskReader &)
{
    std::vector<Outline> outlines;
    size_t count = 0;
    for (const json &line : in.at("outlines")) {
        Outline outline;
        for (const json &each : line) {
            if (!each.is_array() || (each.size() != 2 && each.size() != 6))
                return wrongInput("outline points", "each is [x, y] or [x, y, in x, in y, out x, "
                                                    "out y]");
            float v[6] = {};
            for (size_t i = 0; i < each.size(); ++i) {
                v[i] = each[i].get<float>();
                if (!(std::abs(v[i]) < kFarthestPx))
                    return wrongInput("outline points", "a point is out of range");
            }
            outline.push_back({{v[0], v[1]}, {v[2], v[3]}, {v[4], v[5]}});
            if (++count > kMostPoints)
                return wrongInput("outline points", "there are too many");
        }
        outlines.push_back(std::move(outline));
    }
    return std::shared_ptr<const StepShape>(std::make_shared<OutlineStep>(std::move(outlines)));
}

} // namespace buttonhole
