#include "geometry/picture_map.h"

#include "base/content.h"

#include <cmath>
#include <utility>

namespace buttonhole
{

namespace
{

int roundedUp(int size)
{
    constexpr int kStep = 1 << kMaxLevel;
    return (size + kStep - 1) / kStep * kStep;
}

/// The px of a level that hold where a rectangle goes, by places along its sides, and what
/// resampling takes round them.
template <class From, class Way>
Rect boundsOf(const RectIn<From> &r, int level, Way &&way)
{
    constexpr int kPlaces = 16; // along a side
    constexpr int kAround = 4;  // px: the kernel's two, and how far a side may bulge between places
    const double scale = 1 << level;
    double x0 = 1e9;
    double y0 = 1e9;
    double x1 = -1e9;
    double y1 = -1e9;
    for (int i = 0; i <= kPlaces; ++i) {
        const double x = r.x0 + double(r.width()) * i / kPlaces;
        const double y = r.y0 + double(r.height()) * i / kPlaces;
        for (const auto &[px, py] : {std::pair(x, double(r.y0)),
                                     {x, double(r.y1)},
                                     {double(r.x0), y},
                                     {double(r.x1), y}}) {
            const auto at = way(px * scale, py * scale);
            x0 = std::min(x0, at[0]);
            y0 = std::min(y0, at[1]);
            x1 = std::max(x1, at[0]);
            y1 = std::max(y1, at[1]);
        }
    }
    const auto px = [&](double v) {
        return int(std::floor(std::clamp(v / scale, -double(kMostPx), double(kMostPx))));
    };
    return {px(x0) - kAround, px(y0) - kAround, px(x1) + 1 + kAround, px(y1) + 1 + kAround};
}

} // namespace

Result<void> check(const Geometry &geometry)
{
    const Rect &crop = geometry.crop;
    if (crop != Rect() &&
        (crop.isEmpty() || crop.x0 < 0 || crop.y0 < 0 || crop.x1 > kMostPx || crop.y1 > kMostPx))
        return Error{ErrorKind::InvalidArgument, "crop",
                     "x and y from 0 on, width and height of at least 1 are expected"};
    if (geometry.quarterTurns < 0 || geometry.quarterTurns > 3)
        return Error{ErrorKind::InvalidArgument, "quarterTurns", "0, 1, 2 or 3 is expected"};
    const auto fits = [](int px) { return px >= 1 && px <= Geometry::kMostDelivered; };
    const bool isDelivered = geometry.deliverWidth != 0 || geometry.deliverHeight != 0;
    if (isDelivered && !(fits(geometry.deliverWidth) && fits(geometry.deliverHeight)))
        return Error{ErrorKind::InvalidArgument, "deliver",
                     "a width and a height from 1 to 30000 px are expected"};
    return checkParams(geometry.straightening, Straightening::rows());
}

PictureMap::PictureMap(const Geometry &geometry, int photoWidth, int photoHeight,
                       const Radial &distortion)
    : m_warp(geometry.straightening, distortion, photoWidth, photoHeight), m_photo{0, 0, photoWidth,
                                                                                   photoHeight},
      m_width(roundedUp(photoWidth)), m_height(roundedUp(photoHeight))
{
    m_crop = intersected(geometry.crop, m_photo);
    if (m_crop.isEmpty())
        m_crop = m_warp.isNone() ? m_photo : m_warp.largestFilled();
    const int turns = geometry.quarterTurns & 3;
    m_flipsX = geometry.isMirrored != (turns >= 2);
    m_flipsY = turns == 1 || turns == 2;
    m_swaps = turns % 2 == 1;
    m_isPlain = isExact() && isUpright() && m_crop == m_photo;
}

uint64_t PictureMap::content() const
{
    const uint64_t axes =
        (m_flipsX ? 1U : 0U) | (m_flipsY ? 2U : 0U) | (m_swaps ? 4U : 0U) | (m_isPlain ? 8U : 0U);
    const uint64_t crop =
        joinedContent(joinedContent(axes, uint64_t(m_crop.x0) << 32 | uint32_t(m_crop.y0)),
                      uint64_t(m_crop.x1) << 32 | uint32_t(m_crop.y1));
    return isExact() ? crop : joinedContent(crop, m_warp.content());
}

PictureRect PictureMap::rect(int level) const
{
    return fromLevelled(cropRect(level), level);
}

Rect PictureMap::flipped(const Rect &levelled, int level) const
{
    Rect r = levelled;
    if (m_flipsX)
        r = {(m_width >> level) - levelled.x1, r.y0, (m_width >> level) - levelled.x0, r.y1};
    if (m_flipsY)
        r = {r.x0, (m_height >> level) - levelled.y1, r.x1, (m_height >> level) - levelled.y0};
    return r;
}

PictureRect PictureMap::fromLevelled(const Rect &levelled, int level) const
{
    const Rect r = flipped(levelled, level);
    return m_swaps ? PictureRect{r.y0, r.x0, r.y1, r.x1} : PictureRect{r.x0, r.y0, r.x1, r.y1};
}

Rect PictureMap::toLevelled(const PictureRect &r, int level) const
{
    return flipped(m_swaps ? Rect{r.y0, r.x0, r.y1, r.x1} : Rect{r.x0, r.y0, r.x1, r.y1}, level);
}

PictureRect PictureMap::toPicture(const Rect &photo, int level) const
{
    if (isExact() || photo.isEmpty())
        return fromLevelled(photo, level);
    return fromLevelled(
        boundsOf(photo, level, [&](double x, double y) { return m_warp.toLevelled(x, y); }), level);
}

Rect PictureMap::toPhoto(const PictureRect &picture, int level) const
{
    const Rect levelled = toLevelled(picture, level);
    if (isExact() || levelled.isEmpty())
        return levelled;
    const Rect all =
        boundsOf(levelled, level, [&](double x, double y) { return m_warp.toPhoto(x, y); });
    return intersected(all, atLevel(m_photo, level));
}

std::array<int, 2> PictureMap::pixelAt(int x, int y, int level) const
{
    const PictureRect at = fromLevelled(Rect{x, y, x + 1, y + 1}, level);
    return {at.x0, at.y0};
}

std::array<int, 2> PictureMap::stepAlongRow() const
{
    const int step = m_flipsX ? -1 : 1;
    return m_swaps ? std::array{0, step} : std::array{step, 0};
}

PicturePoint PictureMap::toPicture(double photoX, double photoY) const
{
    const auto [levelledX, levelledY] = m_warp.toLevelled(photoX, photoY);
    const double x = m_flipsX ? m_width - levelledX : levelledX;
    const double y = m_flipsY ? m_height - levelledY : levelledY;
    return m_swaps ? PicturePoint{y, x} : PicturePoint{x, y};
}

std::array<double, 2> PictureMap::toPhoto(const PicturePoint &picture) const
{
    const double x = m_swaps ? picture.y : picture.x;
    const double y = m_swaps ? picture.x : picture.y;
    return m_warp.toPhoto(m_flipsX ? m_width - x : x, m_flipsY ? m_height - y : y);
}

} // namespace buttonhole
