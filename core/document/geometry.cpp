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

PictureRect PictureMap::toPicture(const Rect &photo, int level) const
{
    PictureRect r{photo.x0, photo.y0, photo.x1, photo.y1};
    const int width = m_width >> level;
    const int height = m_height >> level;
    if (m_flipsX)
        r = {width - r.x1, r.y0, width - r.x0, r.y1};
    if (m_flipsY)
        r = {r.x0, height - r.y1, r.x1, height - r.y0};
    return m_swaps ? PictureRect{r.y0, r.x0, r.y1, r.x1} : r;
}

Rect PictureMap::toPhoto(const PictureRect &picture, int level) const
{
    Rect r{picture.x0, picture.y0, picture.x1, picture.y1};
    if (m_swaps)
        r = {r.y0, r.x0, r.y1, r.x1};
    const int width = m_width >> level;
    const int height = m_height >> level;
    if (m_flipsX)
        r = {width - r.x1, r.y0, width - r.x0, r.y1};
    if (m_flipsY)
        r = {r.x0, height - r.y1, r.x1, height - r.y0};
    return r;
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
