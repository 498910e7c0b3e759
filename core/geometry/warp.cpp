#include "geometry/warp.h"

#include "base/content.h"
#include "base/memo.h"

#include <cmath>
#include <numbers>

namespace buttonhole
{

namespace
{

using Matrix = std::array<double, 9>;

constexpr double kFocal = 2; ///< half diagonals
constexpr int kSince = 10;

double radians(float degrees)
{
    return double(degrees) * std::numbers::pi / 180;
}

Matrix product(const Matrix &a, const Matrix &b)
{
    Matrix out{};
    for (size_t i = 0; i < 3; ++i)
        for (size_t j = 0; j < 3; ++j)
            for (size_t k = 0; k < 3; ++k)
                out[3 * i + j] += a[3 * i + k] * b[3 * k + j];
    return out;
}

Matrix inverse(const Matrix &m)
{
    const auto minor = [&](size_t a, size_t b, size_t c, size_t d) {
        return m[a] * m[d] - m[b] * m[c];
    };
    const Matrix adjugate{minor(4, 5, 7, 8), minor(2, 1, 8, 7), minor(1, 2, 4, 5),
                          minor(5, 3, 8, 6), minor(0, 2, 6, 8), minor(2, 0, 5, 3),
                          minor(3, 4, 6, 7), minor(1, 0, 7, 6), minor(0, 1, 3, 4)};
    const double whole = m[0] * adjugate[0] + m[1] * adjugate[3] + m[2] * adjugate[6];
    Matrix out = adjugate;
    for (double &v : out)
        v /= whole;
    return out;
}

/// Where a point goes; what lies behind the camera is far away.
std::array<double, 2> through(const Matrix &m, double x, double y)
{
    constexpr double kLeast = 0.02;
    const double w = std::max(m[6] * x + m[7] * y + m[8], kLeast);
    return {(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w};
}

/// Photo to levelled, units from the middle: the camera turned back, the middle where it was and to
/// its scale.
Matrix levelling(const Straightening &by)
{
    const double turn = radians(by.angleDeg);
    const double tilt = radians(by.verticalDeg);
    const double pan = radians(by.horizontalDeg);
    const Matrix rz{std::cos(turn), -std::sin(turn), 0, std::sin(turn), std::cos(turn), 0, 0, 0, 1};
    const Matrix rx{1, 0, 0, 0, std::cos(tilt), -std::sin(tilt), 0, std::sin(tilt), std::cos(tilt)};
    const Matrix ry{std::cos(pan), 0, std::sin(pan), 0, 1, 0, -std::sin(pan), 0, std::cos(pan)};
    const Matrix camera{kFocal, 0, 0, 0, kFocal, 0, 0, 0, 1};
    const Matrix back{1 / kFocal, 0, 0, 0, 1 / kFocal, 0, 0, 0, 1};
    const Matrix seen = product(camera, product(rz, product(rx, product(ry, back))));
    const auto [cx, cy] = through(seen, 0, 0);
    const Matrix centred = product({1, 0, -cx, 0, 1, -cy, 0, 0, 1}, seen);
    const double w = centred[8];
    const double area = std::abs(centred[0] * centred[4] - centred[1] * centred[3]) / (w * w);
    const double scale = 1 / std::sqrt(area);
    return product({scale, 0, 0, 0, scale, 0, 0, 0, 1}, centred);
}

} // namespace

std::span<const Param<Straightening>> Straightening::rows()
{
    using S = Straightening;
    static constexpr ParamScale kTurn{1, "°", 2, ParamScale::Way::Eased, -15, 15};
    static constexpr ParamScale kTilt{1, "°", 1, ParamScale::Way::Eased};
    static constexpr Param<S> kRows[] = {
        {"angleDeg", [](S &s) -> float & { return s.angleDeg; }, -45, 45, kSince, kTurn},
        {"verticalDeg", [](S &s) -> float & { return s.verticalDeg; }, -40, 40, kSince, kTilt},
        {"horizontalDeg", [](S &s) -> float & { return s.horizontalDeg; }, -40, 40, kSince, kTilt},
    };
    return kRows;
}

Warp::Warp(const Straightening &straightening, const Radial &distortion, int width, int height)
    : m_isNone(straightening.isNone() && distortion.isNone()), m_width(width), m_height(height)
{
    if (m_isNone)
        return;
    m_unit = std::hypot(m_width, m_height) / 2;
    m_toLevelled = levelling(straightening);
    m_toPhoto = inverse(m_toLevelled);
    m_distortion = distortion;
}

Warp::Place Warp::toPhoto(double x, double y) const
{
    if (m_isNone)
        return {x, y};
    const auto [u, v] = through(m_toPhoto, (x - m_width / 2) / m_unit, (y - m_height / 2) / m_unit);
    const double by = m_distortion.at(std::sqrt(u * u + v * v)) * m_unit;
    return {u * by + m_width / 2, v * by + m_height / 2};
}

Warp::Place Warp::toLevelled(double x, double y) const
{
    if (m_isNone)
        return {x, y};
    const double u = (x - m_width / 2) / m_unit;
    const double v = (y - m_height / 2) / m_unit;
    const double there = std::hypot(u, v);
    double r = there;
    constexpr int kRounds = 12;
    constexpr double kLeastSlope = 0.2;
    for (int i = 0; i < kRounds && !m_distortion.isNone(); ++i)
        r = std::max(0.0, r - (r * m_distortion.at(r) - there) /
                                  std::max(m_distortion.slopeAt(r), kLeastSlope));
    const double back = there > 0 ? r / there : 1;
    const auto [a, b] = through(m_toLevelled, u * back, v * back);
    return {a * m_unit + m_width / 2, b * m_unit + m_height / 2};
}

uint64_t Warp::content() const
{
    if (m_isNone)
        return 0;
    uint64_t out = joinedContent(uint64_t(m_width), uint64_t(m_height));
    for (const double v : m_toPhoto)
        out = joinedContent(out, std::bit_cast<uint64_t>(v));
    for (const float v : m_distortion.by)
        out = joinedContent(out, {v});
    return out;
}

bool Warp::isFilled(double x0, double y0, double x1, double y1) const
{
    if (x0 < 0 || y0 < 0 || x1 > m_width || y1 > m_height)
        return false;
    if (m_isNone)
        return true;
    const auto isIn = [&](double x, double y) {
        const auto [u, v] = toPhoto(x, y);
        return u >= 0 && v >= 0 && u <= m_width && v <= m_height;
    };
    constexpr int kPlaces = 24; // along a side
    for (int i = 0; i <= kPlaces; ++i) {
        const double x = x0 + (x1 - x0) * i / kPlaces;
        const double y = y0 + (y1 - y0) * i / kPlaces;
        if (!isIn(x, y0) || !isIn(x, y1) || !isIn(x0, y) || !isIn(x1, y))
            return false;
    }
    return true;
}

bool Warp::isFilled(const Rect &r) const
{
    return isFilled(r.x0, r.y0, r.x1, r.y1);
}

Rect Warp::findLargest() const
{
    struct Box {
        double x = 0;
        double y = 0;
        double size = 0; ///< of the photo's
    };
    const auto sizeAt = [&](double x, double y, double least) {
        const auto fits = [&](double size) {
            const double w = m_width * size / 2;
            const double h = m_height * size / 2;
            return isFilled(x - w, y - h, x + w, y + h);
        };
        if (!fits(least))
            return 0.0;
        double from = least;
        double to = 1;
        if (fits(to))
            return to;
        constexpr int kHalvings = 16;
        for (int i = 0; i < kHalvings; ++i)
            (fits((from + to) / 2) ? from : to) = (from + to) / 2;
        return from;
    };
    // From the middle, uphill.
    Box best{m_width / 2, m_height / 2, sizeAt(m_width / 2, m_height / 2, 0.01)};
    constexpr double kFirstStep = 0.08;
    constexpr double kLastStep = 0.0005;
    for (double step = kFirstStep; step > kLastStep;) {
        const Box from = best;
        for (const auto &[dx, dy] : {std::pair(1, 0), {-1, 0}, {0, 1}, {0, -1}}) {
            const double x = from.x + dx * step * m_width;
            const double y = from.y + dy * step * m_height;
            const double size = sizeAt(x, y, std::max(best.size, 0.01));
            if (size > best.size + 1e-6)
                best = {x, y, size};
        }
        if (best.x == from.x && best.y == from.y)
            step /= 2;
    }
    const double w = m_width * best.size / 2;
    const double h = m_height * best.size / 2;
    const Rect out{int(std::ceil(best.x - w)), int(std::ceil(best.y - h)),
                   int(std::floor(best.x + w)), int(std::floor(best.y + h))};
    return out.isEmpty() ? Rect{0, 0, int(m_width), int(m_height)} : out;
}

Rect Warp::largestFilled() const
{
    if (m_isNone)
        return {0, 0, int(m_width), int(m_height)};
    static Memo memo(8);
    const auto found =
        memo.find(content(), [&] { return std::make_shared<const Rect>(findLargest()); });
    return *std::static_pointer_cast<const Rect>(found);
}

Rect Warp::filledPart(const Rect &levelled) const
{
    if (m_isNone || isFilled(levelled))
        return levelled;
    const Rect all = largestFilled();
    const double cx = (all.x0 + all.x1) / 2.0;
    const double cy = (all.y0 + all.y1) / 2.0;
    const double w = levelled.width();
    const double h = levelled.height();
    // Towards the middle first, then smaller.
    const double x = (levelled.x0 + levelled.x1) / 2.0;
    const double y = (levelled.y0 + levelled.y1) / 2.0;
    const double fits = std::min({1.0, all.width() / w, all.height() / h});
    constexpr int kHalvings = 16;
    const auto largestAlong = [&](auto &&boxAt) { // at 1 it is filled
        double from = 1;
        double to = 0;
        for (int i = 0; i < kHalvings; ++i) {
            const double t = (from + to) / 2;
            const auto [x0, y0, x1, y1] = boxAt(t);
            (isFilled(x0, y0, x1, y1) ? from : to) = t;
        }
        return boxAt(from);
    };
    const auto [x0, y0, x1, y1] = largestAlong([&](double t) {
        const double k = (1 - t) + t * fits;
        const double mx = x + t * (cx - x);
        const double my = y + t * (cy - y);
        return std::array{mx - k * w / 2, my - k * h / 2, mx + k * w / 2, my + k * h / 2};
    });
    constexpr double kRounding = 1e-6;
    const Rect out{int(std::ceil(x0 - kRounding)), int(std::ceil(y0 - kRounding)),
                   int(std::floor(x1 + kRounding)), int(std::floor(y1 + kRounding))};
    return out.isEmpty() ? all : out;
}

} // namespace buttonhole
