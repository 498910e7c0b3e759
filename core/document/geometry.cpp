#include "document/geometry.h"

#include "base/content.h"

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
    return {};
}

PictureMap::PictureMap(const Geometry &geometry, int photoWidth, int photoHeight)
    : m_width(roundedUp(photoWidth)), m_height(roundedUp(photoHeight))
{
    const Rect photo{0, 0, photoWidth, photoHeight};
    m_photo = intersected(geometry.crop, photo);
    if (m_photo.isEmpty())
        m_photo = photo;
    const int turns = geometry.quarterTurns & 3;
    m_flipsX = geometry.isMirrored != (turns >= 2);
    m_flipsY = turns == 1 || turns == 2;
    m_swaps = turns % 2 == 1;
    m_isPlain = isUpright() && m_photo == photo;
}

uint64_t PictureMap::content() const
{
    const uint64_t axes =
        (m_flipsX ? 1U : 0U) | (m_flipsY ? 2U : 0U) | (m_swaps ? 4U : 0U) | (m_isPlain ? 8U : 0U);
    return joinedContent(joinedContent(axes, uint64_t(m_photo.x0) << 32 | uint32_t(m_photo.y0)),
                         uint64_t(m_photo.x1) << 32 | uint32_t(m_photo.y1));
}

PictureRect PictureMap::rect(int level) const
{
    return toPicture(photoRect(level), level);
}

Rect PictureMap::flipped(const Rect &photo, int level) const
{
    Rect r = photo;
    if (m_flipsX)
        r = {(m_width >> level) - photo.x1, r.y0, (m_width >> level) - photo.x0, r.y1};
    if (m_flipsY)
        r = {r.x0, (m_height >> level) - photo.y1, r.x1, (m_height >> level) - photo.y0};
    return r;
}

PictureRect PictureMap::toPicture(const Rect &photo, int level) const
{
    const Rect r = flipped(photo, level);
    return m_swaps ? PictureRect{r.y0, r.x0, r.y1, r.x1} : PictureRect{r.x0, r.y0, r.x1, r.y1};
}

Rect PictureMap::toPhoto(const PictureRect &r, int level) const
{
    return flipped(m_swaps ? Rect{r.y0, r.x0, r.y1, r.x1} : Rect{r.x0, r.y0, r.x1, r.y1}, level);
}

std::array<int, 2> PictureMap::pixelAt(int x, int y, int level) const
{
    const PictureRect at = toPicture(Rect{x, y, x + 1, y + 1}, level);
    return {at.x0, at.y0};
}

std::array<int, 2> PictureMap::stepAlongRow() const
{
    const int step = m_flipsX ? -1 : 1;
    return m_swaps ? std::array{0, step} : std::array{step, 0};
}

PicturePoint PictureMap::toPicture(double photoX, double photoY) const
{
    const double x = m_flipsX ? m_width - photoX : photoX;
    const double y = m_flipsY ? m_height - photoY : photoY;
    return m_swaps ? PicturePoint{y, x} : PicturePoint{x, y};
}

std::array<double, 2> PictureMap::toPhoto(const PicturePoint &picture) const
{
    const double x = m_swaps ? picture.y : picture.x;
    const double y = m_swaps ? picture.x : picture.y;
    return {m_flipsX ? m_width - x : x, m_flipsY ? m_height - y : y};
}

} // namespace buttonhole
